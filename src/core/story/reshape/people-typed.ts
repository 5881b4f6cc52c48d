import { freshId } from '../../base/ids'
import { idFrom } from '../../base/id-from'
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

/** Somebody new for a cast, with an id after the first part of the name. */
export function newPerson(cast: readonly Person[], name: string): Person {
  const id = freshId(idFrom(name.split(/\s+/)[0]!, 'person'), (taken) => cast.some((person) => person.id === taken))
  return { id, name }
}
