import type { LinkedStory } from '../story/linked'
import { digestOf } from './digest'
import { thingsOf } from './things'

/** By entry index: whether a condition, promise, text or value reads it, and whether an effect or a typed word writes it. */
export function usedEntries(story: LinkedStory): { readonly read: Uint8Array; readonly written: Uint8Array } {
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
