import type { Expr } from '../../expression/ast'
import { Compiler } from '../interpreter/compile'
import type { Test } from '../interpreter/condition-compiler'

/** Compiles conditions that somebody may answer who does not look at values; parts of a condition are not asked about. */
export class WatchedCompiler extends Compiler {
  /** Undefined: the values shall answer. */
  decide: ((expr: Expr) => boolean | undefined) | undefined
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
}
