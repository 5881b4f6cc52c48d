'use client'

import { Input } from '@chakra-ui/react'

/** Narrows the list below it. */
export function SearchField({ label, text, onText }: { label: string; text: string; onText: (text: string) => void }) {
  return (
    <Input
      aria-label={label}
      placeholder="Search"
      value={text}
      onChange={(event) => onText(event.target.value)}
      h="1.8rem"
      px="2"
      bg="sheet"
      borderColor="edge"
      borderRadius="sheet"
      fontSize="sm"
      _placeholder={{ color: 'faded' }}
    />
  )
}
