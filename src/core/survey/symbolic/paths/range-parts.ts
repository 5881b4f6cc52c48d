import type { Expr } from '../../../expression/ast'
import type { Slots } from '../../analysis/slots'
import type { ConditionReader } from './condition-reader'
import type { Decided, Demand } from './demand'
import { runsOf, type Range } from './ranges'

/** What conditions leave of ranges: those on the slot of a range alone are asked of each of its values, and settled by that. */
export class RangeParts {
  /** By condition: how it turns out for each value of its slot. */
  private readonly outcomes = new Map<Expr, readonly boolean[]>()

  constructor(
    private readonly slots: Slots,
    private readonly read: ConditionReader,
    /** Where conditions look. */
    private readonly bare: Int32Array,
  ) {}

  /** Ranges without the values for which conditions turn out otherwise, in as many parts as that takes, with the conditions that are left. */
  of(ranges: readonly Range[], conditions: readonly Decided[]): Pick<Demand, 'ranges' | 'conditions'>[] {
    let parts: Range[][] = [[]]
    const settled = new Set<Decided>()
    for (const range of ranges) {
      const asking = conditions.filter(([expr]) => {
        const slots = this.read.slotsIn(expr)
        return slots.length === 1 && slots[0] === range.slot
      })
      for (const one of asking) settled.add(one)
      const runs = this.runsIn(range, asking)
      parts = parts.flatMap((part) => runs.map((run) => [...part, run]))
    }
    const left = conditions.filter((one) => !settled.has(one))
    return parts.map((part) => ({ ranges: part, conditions: left }))
  }

  /** The parts of a range for whose values conditions on its slot turn out as they are meant. */
  private runsIn(range: Range, conditions: readonly Decided[]): Range[] {
    const isMeant = (value: number) =>
      conditions.every(([expr, outcome]) => this.outcomeFor(expr, range.slot, value) === outcome)
    const values = Array.from({ length: range.to - range.from + 1 }, (_, at) => range.from + at)
    return runsOf(values.filter(isMeant)).map((run) => ({ ...range, ...run }))
  }

  private outcomeFor(expr: Expr, slot: number, value: number): boolean {
    const { min, max } = this.slots.all[slot]!
    let known = this.outcomes.get(expr)
    if (known === undefined) {
      const test = this.read.testOf(expr)
      known = Array.from({ length: max - min + 1 }, (_, at) => {
        this.bare[slot] = min + at
        return test()
      })
      this.outcomes.set(expr, known)
    }
    return known[value - min]!
  }
}
