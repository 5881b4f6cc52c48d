'use client'

import { Box, Heading, Input, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import type { Result } from '../../core/base/result'
import type { ApiError } from '../../session/api'
import { Main } from '../../ui/buttons'

interface FieldProps {
  readonly label: string
  readonly value: string
  readonly onChange: (value: string) => void
  readonly type?: 'text' | 'email' | 'password'
  readonly autoComplete?: string
  readonly hint?: string
  readonly autoFocus?: boolean
}

/** A field with its name above it. */
export function Field({ label, value, onChange, type = 'text', hint, ...rest }: FieldProps) {
  return (
    <Box asChild display="block" mt="3">
      <label>
        <Text as="span" fontSize="sm" color="faded">
          {label}
        </Text>
        <Input
          {...rest}
          type={type}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          maxLength={200}
          h="2.2rem"
          mt="1"
          bg="sheet"
          borderColor="edge"
          borderRadius="sheet"
        />
        {hint !== undefined && (
          <Text as="span" fontSize="sm" color="faded">
            {hint}
          </Text>
        )}
      </label>
    </Box>
  )
}

export function PageTitle({ children }: { children: ReactNode }) {
  return (
    <Heading as="h1" fontFamily="story" fontWeight={500} fontSize="2xl" mt="8">
      {children}
    </Heading>
  )
}

export function SectionTitle({ children }: { children: ReactNode }) {
  return (
    <Heading as="h2" fontFamily="story" fontWeight={500} fontSize="lg" mt="8">
      {children}
    </Heading>
  )
}

/** What went wrong, said aloud. */
export function Trouble({ text }: { text: string | undefined }) {
  return (
    <Text role="alert" color="needle" mt={text === undefined ? undefined : '3'} whiteSpace="pre-wrap">
      {text}
    </Text>
  )
}

/** Runs what a form asks for: busy meanwhile, and what was refused is told. */
export function useAsking(): {
  readonly busy: boolean
  readonly trouble: string | undefined
  readonly say: (trouble: string | undefined) => void
  readonly run: <T>(work: Promise<Result<T, ApiError>>, then: (value: T) => void) => Promise<void>
} {
  const [busy, setBusy] = useState(false)
  const [trouble, say] = useState<string>()
  const run = async <T,>(work: Promise<Result<T, ApiError>>, then: (value: T) => void) => {
    setBusy(true)
    say(undefined)
    const done = await work
    setBusy(false)
    if (done.ok) then(done.value)
    else say(done.error.message)
  }
  return { busy, trouble, say, run }
}

/** A form of a few fields and one thing to do. */
export function SmallForm({
  action,
  busy,
  onSubmit,
  children,
}: {
  action: string
  busy: boolean
  onSubmit: () => void
  children: ReactNode
}) {
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onSubmit()
      }}
    >
      {children}
      <Box mt="5">
        <Main type="submit" disabled={busy}>
          {action}
        </Main>
      </Box>
    </form>
  )
}
