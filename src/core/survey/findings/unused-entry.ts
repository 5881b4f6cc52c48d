import type { LinkedStory } from '../../story/linked'
import { finding, type Finding } from '../result'

/** Ledger entries that nothing reads, or nothing writes. */
export function unusedEntries(story: LinkedStory): Finding[] {
  const read = new Set<string>()
  const written = new Set<string>()
  for (const use of story.uses) if (use.of === 'entry') (use.how === 'read' ? read : written).add(use.id)
  return story.entries.flatMap(({ id }) => [
    ...(read.has(id) ? [] : [finding('unread', [id], `nothing reads "${id}"`)]),
    ...(written.has(id) ? [] : [finding('unwritten', [id], `nothing changes "${id}"`)]),
  ])
}
