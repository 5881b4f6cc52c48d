import type { WatchedValues } from './watched-values'

/** Values that a slot may have before something is played, from the least to the largest, and what is added to it by that. */
export interface Range {
  readonly slot: number
  readonly from: number
  readonly to: number
  readonly by: number
}

/** Values in order as runs of those that follow one another. */
export function runsOf(values: readonly number[]): Pick<Range, 'from' | 'to'>[] {
  const runs: { from: number; to: number }[] = []
  for (const value of values) {
    const last = runs.at(-1)
    if (last?.to === value - 1) last.to = value
    else runs.push({ from: value, to: value })
  }
  return runs
}

export function nameOf({ slot, from, to, by }: Range): string {
  return `${slot}:${from}-${to}+${by}`
}

/** What the values of a slot are split by while something is played: for a part of them the play goes on, the others have their turn later. */
export interface RangesAsk {
  /** The least and the largest value of a slot that may have any of them. */
  boundsOf(slot: number): { readonly min: number; readonly max: number } | undefined
  /** Takes up all but the values for which it goes on: those of a slot that come after them. */
  later(ranges: readonly Range[]): void
  /** A slot has just one value from here on. */
  settled(slot: number, value: number): void
}

/**
 * Counters to which something is added while it is not known what they are: a range of values for which the same is played, and what
 * was added (after King: Symbolic execution and program testing, 1976, of sums alone). Where values in it would be played otherwise, it
 * becomes the first of them that are played alike.
 */
export class Ranges {
  private ask: RangesAsk | undefined
  private readonly now = new Map<number, { from: number; to: number; by: number }>()
  private begin: readonly Range[] = []

  constructor(
    private readonly values: WatchedValues,
    /** From how many values on a slot comes to have a range. */
    private readonly many: number,
  ) {
    values.onRanged = (slot) => this.settle(slot)
  }

  /** Something is played for some ranges, of slots that come to have them on the way. */
  play(begin: readonly Range[], ask: RangesAsk): void {
    this.begin = begin
    this.ask = ask
    this.now.clear()
  }

  /** It is over; gives the ranges for which it was played. */
  end(): Range[] {
    const found = [...this.now].map(([slot, range]) => ({ slot, ...range }))
    for (const slot of this.now.keys()) this.values.ranged[slot] = 0
    this.ask = undefined
    return found
  }

  /** What was found to have a range so far. */
  all(): Range[] {
    return [...this.now].map(([slot, { from, to }]) => ({ slot, from, to, by: 0 }))
  }

  /** Whether a slot may have any of a range of values now. */
  has(slot: number): boolean {
    return this.values.ranged[slot] === 1
  }

  /**
   * Adds to a counter within its bounds: says how it leaves them (−1 below, 1 above), 0 where it does not; undefined, and nothing is
   * done, where its value is known or is better known.
   */
  add(slot: number, by: number, min: number, max: number): -1 | 0 | 1 | undefined {
    if (!this.has(slot) && !this.open(slot)) return undefined
    const out = this.split(slot, (value) => (value + by > max ? 1 : value + by < min ? -1 : 0))
    const range = this.now.get(slot)!
    if (out === 0) {
      range.by += by
      this.values.writeRanged(slot, range.from + range.by)
    } else this.values.watched[slot] = out === 1 ? max : min
    return out
  }

  /** What is said of the value of a slot now; the range becomes the first of its values of which the same is said. */
  split<T>(slot: number, say: (value: number) => T): T {
    const range = this.now.get(slot)!
    const said = say(range.from + range.by)
    let last = range.from
    while (last < range.to && say(last + 1 + range.by) === said) last += 1
    this.shorten(slot, last)
    return said
  }

  /** A slot may have any of its values: it has a range from here on. */
  private open(slot: number): boolean {
    const bounds = this.values.isUntouched(slot) ? this.ask?.boundsOf(slot) : undefined
    if (bounds === undefined || bounds.max - bounds.min + 1 < this.many) return false
    const known = this.begin.find((one) => one.slot === slot)
    const from = known?.from ?? bounds.min
    this.now.set(slot, { from, to: known?.to ?? bounds.max, by: 0 })
    this.values.writeRanged(slot, from)
    return true
  }

  /** The slot is asked for in a way that needs one value. */
  private settle(slot: number): void {
    const { from } = this.now.get(slot)!
    this.shorten(slot, from)
    this.now.delete(slot)
    this.values.ranged[slot] = 0
    this.ask!.settled(slot, from)
  }

  private shorten(slot: number, last: number): void {
    const range = this.now.get(slot)!
    if (last === range.to) return
    const others = this.all().map((one) => (one.slot === slot ? { ...one, from: last + 1 } : one))
    range.to = last
    this.ask!.later(others)
  }
}
