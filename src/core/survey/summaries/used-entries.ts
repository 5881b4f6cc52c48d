import type { LinkedStory } from '../../story/linked'
import type { BeatSummary } from './beat-summary'
import { summaryOf } from './summarise'
import { variablesOf } from './variables'
import { changedBeats } from '../../story/linked-parts'

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
  const variables = variablesOf(story)
  for (const beat of story.inOrder) {
    const summary = summaryOf(story, variables, beat)
    for (const entry of summary.entriesRead) read[entry] = 1
    for (const entry of summary.entriesWritten) written[entry] = 1
  }
  for (const { of, id } of [...story.promiseUses, ...story.journalUses, ...story.calledUses])
    if (of === 'entry') read[story.entryOf.get(id)!] = 1
  return { read, written }
}

function sameUses(story: LinkedStory, before: LinkedStory): boolean {
  if (
    story.entries !== before.entries ||
    story.doc.promises !== before.doc.promises ||
    story.doc.quests !== before.doc.quests ||
    story.doc.cast !== before.doc.cast ||
    story.beats.length !== before.beats.length
  )
    return false
  const variables = variablesOf(story)
  const same = (a: readonly number[], b: readonly number[]) =>
    a.length === b.length && a.every((entry) => b.includes(entry))
  return changedBeats(story, before).every((beat) => {
    const was = before.beats[beat]!
    if (was.memo.summary === undefined) return false
    const [now, then] = [summaryOf(story, variables, story.beats[beat]!), was.memo.summary as BeatSummary]
    return same(now.entriesRead, then.entriesRead) && same(now.entriesWritten, then.entriesWritten)
  })
}
