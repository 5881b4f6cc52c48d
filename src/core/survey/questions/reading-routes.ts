import type { RouteItem } from '../../story/types'
import type { EventKind } from '../interpreter/events'

/** What is to be read, beside the decisions. */
export const SHOWN: ReadonlySet<EventKind> = new Set(['beat', 'line', 'variant', 'ending'])

/** Routes that together take every choice and show every line, variant and ending that any route comes to. */
export interface ReadingList {
  readonly routes: readonly ReadingRoute[]
  /** Decisions of all of them together. */
  readonly decisions: number
  /** Choices, beats, lines, variants and endings that they show. */
  readonly items: number
}

export interface ReadingRoute {
  readonly decisions: readonly RouteItem[]
  /** How many of the items no earlier route of the list shows. */
  readonly fresh: number
  readonly ending: string | undefined
}
