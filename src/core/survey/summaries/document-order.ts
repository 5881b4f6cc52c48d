import { beatOf } from '../../base/address'
import type { LinkedStory } from '../../story/linked'
import { ownersOf, placesInDocument } from '../../story/linked-parts'

/** A copy in the order in which what is named stands in the story's document: beats, and in each its parts. */
export function inDocumentOrder<T>(story: LinkedStory, list: readonly T[], addressOf: (one: T) => string): T[] {
  if (list.length < 2) return [...list]
  const places = placesInDocument(story)
  const placed = list.map((one) => {
    const address = addressOf(one)
    const beat = story.beatOf.get(beatOf(address) ?? '') ?? -1
    return {
      one,
      place: beat === -1 ? -1 : places[beat]!,
      part: beat === -1 ? -1 : ownersOf(story.beats[beat]!).findIndex((owner) => owner.address === address),
    }
  })
  return placed.sort((a, b) => a.place - b.place || a.part - b.part).map(({ one }) => one)
}
