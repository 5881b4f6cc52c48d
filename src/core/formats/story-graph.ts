import type { RoadKind } from '../story/roads'

/** A story as a graph of beats and roads, for programs that draw or measure graphs. */
export interface StoryGraph {
  readonly title: string
  readonly beats: readonly GraphBeat[]
  readonly roads: readonly GraphRoad[]
}

export interface GraphBeat {
  /** Its address. */
  readonly id: string
  readonly title: string
  readonly scene: string
  /** Decisions from the start; undefined: on no route, or not known. */
  readonly distance: number | undefined
  readonly verdict: 'reached' | 'unreached' | 'undecided'
  readonly words: number
  readonly isEnding: boolean
  readonly isPlace: boolean
  readonly isStart: boolean
}

export interface GraphRoad {
  /** Its address. */
  readonly id: string
  readonly from: string
  readonly to: string
  readonly kind: RoadKind
  /** What the player reads. */
  readonly text: string
  /** As written; empty: it is always open. */
  readonly gate: string
  readonly effects: string
  readonly taken: 'yes' | 'never' | 'undecided'
}
