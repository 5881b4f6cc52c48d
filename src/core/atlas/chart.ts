import type { LinkedStory } from '../story/linked'
import { allRoads, UNDECIDED, type RoadFacts, type Roads } from '../story/roads'
import { layOut, type Layout } from './layout'

/** The whole story as it is drawn: where each beat stands, and every road. */
export interface Chart extends Layout {
  /** Addresses of the beats, and ids of the scenes, which are the bands. */
  readonly beats: readonly string[]
  readonly scenes: readonly string[]
  readonly bandOf: Int32Array
  readonly start: number
  readonly roads: Roads
  /** A TAKEN for each road. */
  readonly taken: Uint8Array
}

/** The chart of a story; without a survey by its roads alone. */
export function chartOf(story: LinkedStory, known?: (roads: Roads) => RoadFacts): Chart {
  const roads = allRoads(story)
  const { distances, taken } = known?.(roads) ?? {
    distances: new Int32Array(story.inOrder.length).fill(UNDECIDED),
    taken: new Uint8Array(roads.count),
  }
  const bandOf = Int32Array.from(story.inOrder, ({ scene }) => scene)
  const { scenes } = story.doc
  const start = story.start === -1 ? -1 : story.inOrder.indexOf(story.beats[story.start]!)
  return {
    ...layOut({ bandOf, bands: scenes.length, distances, start, roads }),
    beats: story.inOrder.map(({ address }) => address),
    scenes: scenes.map(({ id }) => id),
    bandOf,
    start,
    roads,
    taken,
  }
}
