import type { LinkedStory } from '../../story/linked'
import { digestOf, type Digest } from './beat-summary'
import { thingsOf } from './variables'

/** By entry index: whether a condition, promise, text or value reads it, and whether an effect or a typed word writes it. */
export interface UsedEntries {
  readonly read: Uint8Array
  readonly written: Uint8Array
}

const known = new WeakMap<LinkedStory, UsedEntries>()

/** `before`: the story before an edit; where the edited beats use what they used, so does the story. */
export function usedEntries(story: LinkedStory, before?: LinkedStory): UsedEntries {
  let used = known.get(story) ?? (before && sameUses(story, before) ? known.get(before) : undefined)
  used ??= listUses(story)
  known.set(story, used)
  return used
}

function listUses(story: LinkedStory): UsedEntries {
  const read = new Uint8Array(story.entries.length)
  const written = new Uint8Array(story.entries.length)
  const things = thingsOf(story)
  for (const beat of story.beats) {
    const digest = digestOf(story, things, beat)
    for (const entry of digest.entriesRead) read[entry] = 1
    for (const entry of digest.entriesWritten) written[entry] = 1
  }
  for (const { of, id } of story.promiseUses) if (of === 'entry') read[story.entryOf.get(id)!] = 1
  return { read, written }
}

function sameUses(story: LinkedStory, before: LinkedStory): boolean {
  if (
    story.entries !== before.entries ||
    story.doc.promises !== before.doc.promises ||
    story.beats.length !== before.beats.length
  )
    return false
  const things = thingsOf(story)
  const same = (a: readonly number[], b: readonly number[]) =>
    a.length === b.length && a.every((entry) => b.includes(entry))
  return story.beats.every((beat, index) => {
    const was = before.beats[index]!
    if (beat === was) return true
    if (was.memo.digest === undefined) return false
    const [now, then] = [digestOf(story, things, beat), was.memo.digest as Digest]
    return same(now.entriesRead, then.entriesRead) && same(now.entriesWritten, then.entriesWritten)
  })
}
