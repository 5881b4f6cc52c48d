import { chakra } from '@chakra-ui/react'
import type { Person } from '../../../core/story/types'

/** A colour as `#rrggbb`; anything else in a file is kept, and marks nothing. */
export function colourOf(person: Person | undefined): string | undefined {
  return person?.colour !== undefined && /^#[0-9a-f]{6}$/i.test(person.colour) ? person.colour : undefined
}

/** A small square in somebody's own colour; nothing where none was chosen. The name always stands beside it. */
export function PersonMark({ person }: { person: Person | undefined }) {
  const colour = colourOf(person)
  if (colour === undefined) return null
  return (
    <chakra.span
      display="inline-block"
      w="0.6em"
      h="0.6em"
      mr="1.5"
      border="1px solid"
      borderColor="edge"
      flexShrink={0}
      aria-hidden="true"
      style={{ background: colour }}
      data-mark-of={person!.id}
    />
  )
}
