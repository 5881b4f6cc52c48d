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
  /** Left out where routes are told when they are asked for: then `decisions` says how long it is. */
  readonly route?: readonly Decision[]
  readonly decisions?: number
}

/** A route that is worked out only when somebody wants it. */
export interface Way {
  readonly length: number
  readonly take: () => Decision[]
}

export function wayOfRoute(route: readonly Decision[]): Way {
  return { length: route.length, take: () => [...route] }
}

/** A finding whose route is not worked out yet. */
export interface Found extends Omit<Finding, 'route' | 'decisions'> {
  readonly way?: Way
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

/** How a beat or a choice is told of in numbers. */
export const VERDICT = { unreached: 0, reached: 1, undecided: 2 } as const

/** What a survey says, in numbers where there can be many. */
export interface SurveyTold {
  readonly complete: boolean
  /** A VERDICT for each beat and each choice of the linked story. */
  readonly beats: Uint8Array
  readonly choices: Uint8Array
  readonly ends: {
    readonly reached: Readonly<Record<'endings' | 'stages', Record<string, Reached>>>
    readonly unreached: Readonly<Record<'endings' | 'stages', string[]>>
    readonly undecided: Readonly<Record<'endings' | 'stages' | 'promises', string[]>>
  }
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

export function finding(kind: FindingKind, key: readonly string[], message: string, way?: Way, level?: Level): Found {
  const found = { kind, level: level ?? LEVELS[kind], key, message }
  return way === undefined ? found : { ...found, way }
}

/** A finding as it is told, with its route or only how long that is. */
export function told(found: Found, routes: boolean): Finding {
  const { kind, level, key, message, way } = found
  if (way === undefined) return found
  return routes
    ? { kind, level, key, message, route: way.take() }
    : { kind, level, key, message, decisions: way.length }
}
