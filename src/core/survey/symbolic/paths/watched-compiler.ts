import type { CompareOp, Expr } from '../../../expression/ast'
import { compare } from '../../../expression/evaluate'
import { Compiler, type Action } from '../../interpreter/compile'
import type { Test } from '../../interpreter/condition-compiler'
import type { Ranges } from './ranges'

/** Compiles conditions that somebody may answer who does not look at values; parts of a condition are not asked about. */
export class WatchedCompiler extends Compiler {
  /** Undefined: the values shall answer. */
  decide: ((expr: Expr) => boolean | undefined) | undefined
  /** Counters of which more than one value is looked at. */
  ranges: Ranges | undefined
  private depth = 0

  override test(expr: Expr): Test {
    this.depth += 1
    const test = super.test(expr)
    this.depth -= 1
    return this.depth > 0 ? test : () => this.decide?.(expr) ?? test()
  }

  /** A condition that the values answer. */
  bareTest(expr: Expr): Test {
    this.depth += 1
    const test = super.test(expr)
    this.depth -= 1
    return test
  }

  protected override comparing(op: CompareOp, at: number, value: number): Test {
    const plain = super.comparing(op, at, value)
    return () => (this.ranges?.has(at) === true ? this.ranges.split(at, (one) => compare(op, one, value)) : plain())
  }

  protected override adding(...[slot, by, entry, over]: Parameters<Compiler['adding']>): Action {
    const plain = super.adding(slot, by, entry, over)
    return () => {
      const out = this.ranges?.add(slot.index, by, entry.min, entry.max)
      if (out === undefined) plain()
      else if (out !== 0 && over !== -1) this.events.record(over)
    }
  }
}
