import type { LinkedStory } from '../../story/linked'
import { finding, type Found } from './finding'
import { usedEntries } from '../summaries/used-entries'

/** Ledger entries that nothing reads, or nothing writes; what the game gives is written by it. */
export function unusedEntries(story: LinkedStory): Found[] {
  const { read, written } = usedEntries(story)
  return story.entries.flatMap(({ id, index, given }) => [
    ...(read[index] === 1 ? [] : [finding('unread', [id], `nothing reads "${id}"`)]),
    ...(written[index] === 1 || given !== undefined ? [] : [finding('unwritten', [id], `nothing changes "${id}"`)]),
  ])
}
