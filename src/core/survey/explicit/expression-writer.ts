import type { CompareOp, Expr } from '../../expression/ast'
import type { Compiler } from '../compile'
import type { Slot } from '../slots'

/** Writes conditions and numbers as JavaScript over variables that hold the slots. */
export class ExpressionWriter {
  constructor(
    private readonly compiler: Compiler,
    /** The variable that holds a slot. */
    private readonly read: (slot: number) => string,
    /** Says that something is left to the interpreter: a number that may leave the exact range. */
    private readonly refuse: () => void,
  ) {}

  /** A condition as a JavaScript expression. */
  test(expr: Expr): string {
    const { compiler } = this
    switch (expr.kind) {
      case 'bool':
        return String(expr.value)
      case 'entry':
      case 'taken':
        return `${this.read(compiler.slotOf(expr)!.index)}===1`
      case 'order': {
        const slot = compiler.slotOf(expr.subject)!
        return `${this.read(slot.index)}${expr.name === 'atLeast' ? '>=' : '<'}${compiler.literalIn(slot, expr.position)}`
      }
      case 'not':
        return `!(${this.test(expr.operand)})`
      case 'and':
        return `(${this.test(expr.left)}&&${this.test(expr.right)})`
      case 'or':
        return `(${this.test(expr.left)}||${this.test(expr.right)})`
      case 'compare':
        return this.comparison(expr.op, expr.left, expr.right)
      case 'in':
        return `(${expr.items.map((item) => this.comparison('==', expr.left, item)).join('||') || 'false'})`
      default:
        // `at` and `ended` stand in promises only
        this.refuse()
        return 'false'
    }
  }

  private comparison(op: CompareOp, left: Expr, right: Expr): string {
    const { compiler } = this
    const sign = op === '==' ? '===' : op === '!=' ? '!==' : op
    const type = compiler.typeOf(left)
    if (type === 'bool') return `((${this.test(left)})${sign}(${this.test(right)}))`
    if (type === 'int') {
      if (!compiler.isPlain(left) || !compiler.isPlain(right)) this.refuse()
      return `(${this.count(left)}${sign}${this.count(right)})`
    }
    if (left.kind === 'string' && right.kind === 'string') return String((left.value === right.value) === (op === '=='))
    const [subject, literal] = left.kind === 'string' ? [right, left] : [left, right]
    if (literal.kind === 'string') {
      const slot = compiler.slotOf(subject)!
      return `(${this.read(slot.index)}${sign}${compiler.literalIn(slot, literal.value)})`
    }
    const [first, second] = [compiler.slotOf(left)!, compiler.slotOf(right)!]
    const numbers = (slot: Slot) => `[${compiler.numbersOf(slot).join(',')}][${this.read(slot.index)}]`
    return `(${numbers(first)}${sign}${numbers(second)})`
  }

  /** A number as a JavaScript expression. */
  count(expr: Expr): string {
    switch (expr.kind) {
      case 'int':
        return `(${expr.value})`
      case 'entry':
      case 'visits': {
        const slot = this.compiler.slotOf(expr)!
        if (slot.kind === 'entry' && slot.wide !== undefined) this.refuse()
        return this.read(slot.index)
      }
      case 'negate':
        return `(0-${this.count(expr.operand)})`
      case 'arithmetic':
        return `(${this.count(expr.left)}${expr.op}${this.count(expr.right)}${expr.op === '*' ? '+0' : ''})`
      default:
        this.refuse()
        return '0'
    }
  }
}
