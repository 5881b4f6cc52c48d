import type { PlayState } from '../play/state'
import type { RouteItem } from '../story/types'

/** An open decision, and how far the ending is after it. */
export interface Way {
  readonly decision: RouteItem
  /** The fewest decisions; Infinity where it is lost. */
  readonly distance: number
}

/** Leads a player to an ending, by a finished survey of the story. */
export interface Guide {
  /** A new playthrough, where it first rests. */
  begin(state: PlayState): void
  /** The game has given something else. */
  given(state: PlayState): void
  /** How far the ending is where the playthrough rests; Infinity where it is lost. */
  readonly distance: number
  /** The open decisions, in the order of the document; none where the survey did not go. */
  ways(state: PlayState): readonly Way[]
  /** The player decides for one of the ways last given. */
  take(way: Way): void
}
