import { chakra } from '@chakra-ui/react'
import type { Person } from '../../core/story/types'

/** A small square in somebody's own colour; nothing where none was chosen. The name always stands beside it. */
export function PersonMark({ person }: { person: Person | undefined }) {
  if (person?.colour === undefined) return null
  return <chakra.span display="inline-block" w="0.6em" h="0.6em" mr="1.5" border="1px solid" borderColor="edge" flexShrink={0} aria-hidden="true" style={{ background: person.colour }} data-mark-of={person.id} />
}
