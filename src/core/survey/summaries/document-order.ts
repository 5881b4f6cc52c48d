import { beatOf } from '../../base/address'
import type { LinkedStory } from '../../story/linked'
import { ownersOf, positionsInDocument } from '../../story/linked-parts'

/** A copy in the order in which what is named stands in the story's document: beats, and in each its parts. */
export function inDocumentOrder<T>(story: LinkedStory, list: readonly T[], addressOf: (one: T) => string): T[] {
  if (list.length < 2) return [...list]
  const positions = positionsInDocument(story)
  const placed = list.map((one) => {
    const address = addressOf(one)
    const beat = story.beatOf.get(beatOf(address) ?? '') ?? -1
    return {
      one,
      position: beat === -1 ? -1 : positions[beat]!,
      part: beat === -1 ? -1 : ownersOf(story.beats[beat]!).findIndex((owner) => owner.address === address),
    }
  })
  return placed.sort((a, b) => a.position - b.position || a.part - b.part).map(({ one }) => one)
}
