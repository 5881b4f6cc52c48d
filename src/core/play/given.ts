import type { LinkedEntry, LinkedStory } from '../story/linked'
import type { EntryValue } from '../story/types'

/** Values that the game sets, by entry. */
export type GivenValues = Readonly<Record<string, EntryValue>>

/** Whether the game may give an entry a value: of a text any word as it would be kept, or "". */
export function isInDomain({ kind, positions, min, max }: LinkedEntry, value: EntryValue): boolean {
  switch (kind) {
    case 'flag':
      return typeof value === 'boolean'
    case 'switch':
      return typeof value === 'string' && positions.includes(value)
    case 'counter':
    case 'item':
      return typeof value === 'number' && Number.isInteger(value) && value >= min && value <= max
    case 'text':
      return typeof value === 'string' && value.trim() === value
  }
}

/** Why the game can't set these values, before the story begins or while it rests; undefined where it can. */
export function givenTrouble(story: LinkedStory, given: GivenValues, when: 'begin' | 'rest'): string | undefined {
  for (const [id, value] of Object.entries(given)) {
    const entry = story.entries[story.entryOf.get(id) ?? -1]
    if (entry === undefined) return `there is no ledger entry "${id}"`
    if (entry.given === undefined) return `"${id}" is the story's own: the game does not set it`
    if (entry.given === 'begin' && when === 'rest')
      return `"${id}" is given before the story begins and can not change afterwards`
    if (!isInDomain(entry, value)) return `"${id}" can not be ${JSON.stringify(value)}`
  }
  return undefined
}

/** Puts values that the game may set into the ledger. */
export function setGiven(story: LinkedStory, entries: EntryValue[], given: GivenValues): void {
  for (const [id, value] of Object.entries(given)) entries[story.entryOf.get(id)!] = value
}
