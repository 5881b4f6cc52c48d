import { operandsOf, type Expr } from '../../../expression/ast'
import type { Range } from './ranges'

/** A slot with a value. */
export type Assignment = readonly [slot: number, value: number]

/**
 * A condition with how it turns out; and whether it was asked to know if the story rests where it has come to, since some choice is
 * open there: where it is so the path ends with it.
 */
export type Decided = readonly [expr: Expr, outcome: boolean, isOffer?: boolean]

/** What must hold in a state. */
export interface Demand {
  readonly guards: readonly Assignment[]
  /** Counters that something is added to, each for more than one value. */
  readonly ranges: readonly Range[]
  readonly conditions: readonly Decided[]
}

/** Conditions that all have to turn out as they are meant for one to. */
export function partsOf([expr, outcome]: Decided): Decided[] {
  return operandsOf(expr, outcome ? 'and' : 'or').map((part) => [part, outcome])
}
