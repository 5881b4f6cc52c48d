import type { Diagrams } from './diagrams'
import { EMPTY, UNIT } from './node-table'

/** What becomes of a variable: for each of its values the value of the other, which has so many. */
export interface Becoming {
  readonly size: number
  readonly becomes: readonly number[]
}

/** Two sets of the same diagrams as one key: there are fewer than this. */
const SETS = 2 ** 24

/**
 * Sets of one search as sets of another, variable by variable: what is told by both stands in the same order in both. A variable that
 * the other does not tell is left out.
 */
export class Conversion {
  private readonly images: Map<number, number>[]
  private readonly sources: Map<number, number>[]

  constructor(
    private readonly from: Diagrams,
    private readonly to: Diagrams,
    /** By variable of the first. */
    private readonly steps: readonly (Becoming | undefined)[],
  ) {
    this.images = steps.map(() => new Map())
    this.sources = steps.map(() => new Map())
  }

  /** All that the members of a set become. */
  image(set: number, at = 0): number {
    if (set === EMPTY) return EMPTY
    if (at === this.steps.length) return UNIT
    const known = this.images[at]!.get(set)
    if (known !== undefined) return known
    const { from, to } = this
    const step = this.steps[at]
    const parts = new Array<number>(step?.size ?? 1).fill(EMPTY)
    for (let value = 0; value < from.sizeOf(set); value += 1) {
      const place = step === undefined ? 0 : step.becomes[value]!
      parts[place] = to.union(parts[place]!, this.image(from.part(set, value), at + 1))
    }
    const made = step === undefined ? parts[0]! : to.node(parts)
    this.images[at]!.set(set, made)
    return made
  }

  /** Those members of a set that become a member of another. */
  among(set: number, others: number, at = 0): number {
    if (set === EMPTY || others === EMPTY) return EMPTY
    if (at === this.steps.length) return UNIT
    const key = set * SETS + others
    const known = this.sources[at]!.get(key)
    if (known !== undefined) return known
    const { from, to } = this
    const step = this.steps[at]
    const parts = Array.from({ length: from.sizeOf(set) }, (_, value) =>
      this.among(from.part(set, value), step === undefined ? others : to.part(others, step.becomes[value]!), at + 1),
    )
    const made = from.node(parts)
    this.sources[at]!.set(key, made)
    return made
  }
}
