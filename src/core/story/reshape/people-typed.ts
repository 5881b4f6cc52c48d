import type { Person, Story } from '../types'

/** People whose names begin with what was typed before a colon. */
export function peopleTyped(story: Story, typed: string): readonly Person[] {
  const wanted = typed.trim().toLowerCase()
  if (wanted === '') return []
  return (story.cast ?? []).filter(
    ({ id, name }) =>
      id.startsWith(wanted) ||
      name
        .toLowerCase()
        .split(/\s+/)
        .some((part) => part.startsWith(wanted)),
  )
}
