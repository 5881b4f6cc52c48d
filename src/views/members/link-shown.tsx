'use client'

import { Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { Plain } from '../../ui/buttons'

/** Something that is shown once, to be copied and handed on. */
export function ShownOnce({ label, text, says }: { label: string; text: string; says: string }) {
  const [copied, setCopied] = useState(false)
  const copy = () => {
    void navigator.clipboard?.writeText(text).then(() => setCopied(true))
  }
  return (
    <Flex
      direction="column"
      gap="1"
      mt="3"
      p="3"
      bg="sheet"
      border="1px solid"
      borderColor="edge"
      borderRadius="sheet"
      role="status"
    >
      <Text fontSize="sm">{says}</Text>
      <Flex gap="2">
        <Input
          aria-label={label}
          readOnly
          value={text}
          onFocus={(event) => event.target.select()}
          h="2rem"
          fontFamily="mono"
          fontSize="sm"
          borderColor="edge"
          borderRadius="sheet"
        />
        <Plain type="button" onClick={copy}>
          {copied ? 'Copied' : 'Copy'}
        </Plain>
      </Flex>
    </Flex>
  )
}

/** A link of this server, by its key. */
export function linkOf(key: string): string {
  return `${location.origin}/join?key=${key}`
}
