'use client'

import { Flex } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { Main } from '../../../ui/buttons'
import { useMayWrite } from '../session/use-session'

interface Props {
  readonly label: string
  readonly placeholder: string
  /** What the button says. */
  readonly action: string
  readonly onAdd: (name: string) => void
  readonly children?: ReactNode
}

/** A name and a button that makes something of it. */
export function AddForm({ label, placeholder, action, onAdd, children }: Props) {
  const [name, setName] = useState('')
  if (!useMayWrite()) return null
  return (
    <Flex
      as="form"
      gap="2"
      mt="3"
      align="center"
      wrap="wrap"
      onSubmit={(event) => {
        event.preventDefault()
        if (name.trim() === '') return
        onAdd(name.trim())
        setName('')
      }}
    >
      <input
        className="field"
        aria-label={label}
        placeholder={placeholder}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      {children}
      <Main type="submit">{action}</Main>
    </Flex>
  )
}
