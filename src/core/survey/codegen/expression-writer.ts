import { isSmall, typeOf } from '../summaries/number-bounds'
import type { CompareOp, Expr } from '../../expression/ast'
import type { Compiler } from '../interpreter/compile'
import { binary, constant, not, OP, type Code } from './wasm'

const SIGNS: Readonly<Record<CompareOp, number>> = {
  '==': OP.eq,
  '!=': OP.ne,
  '<': OP.lt,
  '<=': OP.le,
  '>': OP.gt,
  '>=': OP.ge,
}
/** Words that two entries can both hold, beyond which their comparison is left to the interpreter. */
const WORDS_MAX = 64

/** Writes conditions and numbers as WebAssembly over locals that hold the slots. Nothing in them does anything, so all of their parts are worked out: that is quicker than going round some. */
export class ExpressionWriter {
  constructor(
    private readonly compiler: Compiler,
    /** Reads a slot. */
    private readonly read: (slot: number) => Code,
    /** Says that something is left to the interpreter: a number that may need more than 32 bits. */
    private readonly refuse: () => void,
  ) {}

  /** A condition as 0 or 1. */
  test(expr: Expr): Code {
    const { compiler } = this
    switch (expr.kind) {
      case 'bool':
        return constant(expr.value ? 1 : 0)
      case 'entry':
      case 'taken':
        return this.read(compiler.slotOf(expr)!.index)
      case 'order': {
        const slot = compiler.slotOf(expr.subject)!
        return binary(
          expr.name === 'atLeast' ? OP.ge : OP.lt,
          this.read(slot.index),
          constant(compiler.literalIn(slot, expr.position)),
        )
      }
      case 'not':
        return not(this.test(expr.operand))
      case 'and':
        return binary(OP.and, this.test(expr.left), this.test(expr.right))
      case 'or':
        return binary(OP.or, this.test(expr.left), this.test(expr.right))
      case 'compare':
        return this.comparison(expr.op, expr.left, expr.right)
      case 'in':
        return anyOf(expr.items.map((item) => this.comparison('==', expr.left, item)))
      case 'arithmetic':
      case 'at':
      case 'ended':
      case 'int':
      case 'negate':
      case 'quest':
      case 'string':
      case 'visits':
        // `at` and `ended` stand in promises only
        this.refuse()
        return constant(0)
    }
  }

  private comparison(op: CompareOp, left: Expr, right: Expr): Code {
    const { compiler } = this
    const type = typeOf(compiler.story, left)
    if (type === 'bool') return binary(SIGNS[op], this.test(left), this.test(right))
    if (type === 'int') {
      if (!isSmall(compiler.story, left) || !isSmall(compiler.story, right)) this.refuse()
      return binary(SIGNS[op], this.count(left), this.count(right))
    }
    if (left.kind === 'string' && right.kind === 'string')
      return constant((left.value === right.value) === (op === '==') ? 1 : 0)
    const [subject, literal] = left.kind === 'string' ? [right, left] : [left, right]
    if (literal.kind === 'string') {
      const slot = compiler.slotOf(subject)!
      return binary(SIGNS[op], this.read(slot.index), constant(compiler.literalIn(slot, literal.value)))
    }
    return op === '==' ? this.sameWord(left, right) : not(this.sameWord(left, right))
  }

  /** Whether two slots that number their words each in its own way hold the same word. */
  private sameWord(left: Expr, right: Expr): Code {
    const { compiler } = this
    const [first, second] = [compiler.slotOf(left)!, compiler.slotOf(right)!]
    const places = new Map([...compiler.numbersOf(second)].map((word, at) => [word, at]))
    const both = [...compiler.numbersOf(first)].flatMap((word, at) =>
      places.has(word) ? [[at, places.get(word)!] as const] : [],
    )
    if (both.length > WORDS_MAX) this.refuse()
    return anyOf(
      both.map(([a, b]) =>
        binary(
          OP.and,
          binary(OP.eq, this.read(first.index), constant(a)),
          binary(OP.eq, this.read(second.index), constant(b)),
        ),
      ),
    )
  }

  /** A number. */
  count(expr: Expr): Code {
    switch (expr.kind) {
      case 'int':
        return constant(expr.value)
      case 'entry':
      case 'visits': {
        const slot = this.compiler.slotOf(expr)!
        if (slot.kind === 'entry' && slot.wide !== undefined) this.refuse()
        return this.read(slot.index)
      }
      case 'negate':
        return binary(OP.sub, constant(0), this.count(expr.operand))
      case 'arithmetic':
        return binary({ '+': OP.add, '-': OP.sub, '*': OP.mul }[expr.op], this.count(expr.left), this.count(expr.right))
      case 'and':
      case 'at':
      case 'bool':
      case 'compare':
      case 'ended':
      case 'in':
      case 'not':
      case 'or':
      case 'order':
      case 'quest':
      case 'string':
      case 'taken':
        this.refuse()
        return constant(0)
    }
  }
}

/** Whether any of some conditions holds. */
export function anyOf(tests: readonly Code[]): Code {
  return tests.length === 0 ? constant(0) : tests.reduce((all, test) => binary(OP.or, all, test))
}
