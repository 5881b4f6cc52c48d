import type { LinkedStory } from '../../../src/core/story/linked'

/** A story that can be played. */
export interface Playable {
  readonly title: string
  /** Its own first. */
  readonly languages: readonly string[]
  /** @internal The story as one of its languages shows it. */
  linked(language?: string): LinkedStory
}
