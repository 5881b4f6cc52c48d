import type { Decision } from '../story/types'

export type FindingKind =
  | 'problem'
  | 'unreached'
  | 'dead-end'
  | 'no-way-out'
  | 'endless-run'
  | 'promise-broken'
  | 'route-broken'
  | 'undeclared-move'
  | 'stranded-stage'
  | 'left-open'
  | 'overrun'
  | 'unset-text'
  | 'always-open'
  | 'unread'
  | 'unwritten'

export type Level = 'error' | 'warning' | 'note'

/** One thing that the survey found; the route shows it, where it happens on one. */
export interface Finding {
  readonly kind: FindingKind
  readonly level: Level
  readonly key: readonly string[]
  readonly message: string
  readonly route?: readonly Decision[]
}

/** Reached: the fewest decisions, and a route of that many that replays (left out where it was not asked for). */
export interface Reached {
  readonly decisions: number
  readonly route?: readonly Decision[]
}

export interface PromiseVerdict {
  readonly verdict: 'kept' | 'broken' | 'undecided'
  readonly route?: readonly Decision[]
}

export const REACHABLE = ['beats', 'choices', 'endings', 'stages'] as const
export type Reachable = (typeof REACHABLE)[number]

/** All that a survey says about a story. */
export interface SurveyResult {
  /** False when the budget ran out: what is on no route is then known only in part. */
  readonly complete: boolean
  readonly reached: Readonly<Record<Reachable, Readonly<Record<string, Reached>>>>
  readonly unreached: Readonly<Record<Reachable, readonly string[]>>
  readonly undecided: Readonly<Record<Reachable | 'promises', readonly string[]>>
  readonly promises: Readonly<Record<string, PromiseVerdict>>
  readonly findings: readonly Finding[]
  readonly figures: Figures
}

/** What the answer cost. */
export interface Figures {
  /** Resting states looked at, after what nothing reads was left out. */
  readonly states: number
  readonly transitions: number
  /** Bits that the largest state took. */
  readonly bits: number
  /** Bytes held by the search when it ended. */
  readonly bytes: number
}

const LEVELS: Readonly<Record<FindingKind, Level>> = {
  problem: 'error',
  unreached: 'warning',
  'dead-end': 'error',
  'no-way-out': 'error',
  'endless-run': 'error',
  'promise-broken': 'error',
  'route-broken': 'error',
  'undeclared-move': 'warning',
  'stranded-stage': 'warning',
  'left-open': 'note',
  overrun: 'warning',
  'unset-text': 'warning',
  'always-open': 'note',
  unread: 'note',
  unwritten: 'note',
}

export function finding(kind: FindingKind, key: readonly string[], message: string, route?: readonly Decision[], level?: Level): Finding {
  return { kind, level: level ?? LEVELS[kind], key, message, ...(route === undefined ? {} : { route }) }
}
