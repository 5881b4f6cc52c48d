import type { RouteItem } from '../story/types'
import type { PromiseVerdict } from './findings/exploration'
import type { Finding } from './findings/finding'

/** Reached: the fewest decisions, and a route of that many that replays (left out where it was not asked for). */
export interface Reached {
  readonly decisions: number
  readonly route?: readonly RouteItem[]
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
export interface SurveyBrief {
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
