import type { Entry, EntryKind, WhenGiven } from '../../../core/story/types'

export const KINDS: readonly EntryKind[] = ['flag', 'switch', 'counter', 'item', 'text']

/** What each kind is for, as it is offered. */
export const KIND_HINTS: Readonly<Record<EntryKind, string>> = {
  flag: 'yes or no',
  switch: 'one of several positions',
  counter: 'a number in a range',
  item: 'how many are carried',
  text: 'a word or a name',
}

/** Who sets an entry, as it is offered. */
export const GIVEN: readonly (readonly [WhenGiven | '', string])[] = [
  ['', 'set by the story'],
  ['begin', 'given at the start'],
  ['rest', 'given at any rest'],
]

const COUNTER_MAX = 10

/** A new entry of a kind, ready to be used. */
export function newEntry(kind: EntryKind, id: string): Entry {
  switch (kind) {
    case 'flag':
    case 'text':
      return { id, kind }
    case 'switch':
      return { id, kind, positions: ['off', 'on'] }
    case 'counter':
      return { id, kind, min: 0, max: COUNTER_MAX }
    case 'item':
      return { id, kind, max: 1 }
  }
}

/** The entry turned into another kind; what both kinds have is kept. */
export function asKind(entry: Entry, kind: EntryKind): Entry {
  const { id, name, group, given, notes } = entry
  const made = newEntry(kind, id)
  const range =
    (made.kind === 'counter' || made.kind === 'item') && (entry.kind === 'counter' || entry.kind === 'item')
      ? { max: entry.max }
      : {}
  return {
    ...made,
    ...range,
    ...(name === undefined ? {} : { name }),
    ...(group === undefined ? {} : { group }),
    ...(given === undefined ? {} : { given }),
    ...(notes === undefined ? {} : { notes }),
  }
}
