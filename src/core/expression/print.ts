import { never } from '../base/assert'
import type { Effect, Expr } from './ast'

/** How tightly each form binds; a part that binds less than its place asks stands in parentheses. */
const OR = 1
const AND = 2
const RELATION = 3
const SUM = 4
const PRODUCT = 5
const UNARY = 6
const MEMBER = 7

/** An expression as text; parsing it again gives the same expression. */
export function printExpression(expr: Expr): string {
  return print(expr, OR)
}

export function printEffect(effect: Effect): string {
  if (effect.kind === 'stage') return `quest.${effect.quest} = ${printExpression(effect.value)}`
  const sign = effect.kind === 'set' ? '=' : effect.kind === 'add' ? '+=' : '-='
  return `${effect.entry} ${sign} ${printExpression(effect.value)}`
}

/** A string as an expression writes it, in single quotes. */
export function quote(text: string): string {
  const escaped = text.replace(/[\\']/g, (sign) => `\\${sign}`).replace(/[\n\r\t\u0000-\u001f\u007f]/g, escapeControl)
  return `'${escaped}'`
}

function escapeControl(sign: string): string {
  if (sign === '\n') return '\\n'
  if (sign === '\r') return '\\r'
  if (sign === '\t') return '\\t'
  return `\\x${sign.charCodeAt(0).toString(16).padStart(2, '0')}`
}

function print(expr: Expr, place: number): string {
  const level = binding(expr)
  const text = form(expr)
  return level < place ? `(${text})` : text
}

function binding(expr: Expr): number {
  switch (expr.kind) {
    case 'or':
      return OR
    case 'and':
      return AND
    case 'compare':
    case 'in':
      return RELATION
    case 'arithmetic':
      return expr.op === '*' ? PRODUCT : SUM
    case 'not':
    case 'negate':
      return UNARY
    case 'at':
    case 'bool':
    case 'ended':
    case 'entry':
    case 'int':
    case 'order':
    case 'quest':
    case 'string':
    case 'taken':
    case 'visits':
      return MEMBER
  }
}

function form(expr: Expr): string {
  switch (expr.kind) {
    case 'bool':
    case 'int':
      return String(expr.value)
    case 'string':
      return quote(expr.value)
    case 'entry':
      return expr.id
    case 'quest':
      return `quest.${expr.id}`
    case 'visits':
      return `visits(${quote(expr.beat)})`
    case 'taken':
      return `taken(${quote(expr.choice)})`
    case 'at':
      return `at(${quote(expr.beat)})`
    case 'ended':
      return `ended(${quote(expr.ending)})`
    case 'order':
      return `${expr.name}(${print(expr.subject, OR)}, ${quote(expr.position)})`
    case 'not':
      return `!${print(expr.operand, expr.operand.kind === 'not' ? UNARY : MEMBER)}`
    case 'negate':
      return `-${print(expr.operand, expr.operand.kind === 'negate' ? UNARY : MEMBER)}`
    case 'and':
      return `${print(expr.left, AND)} && ${print(expr.right, expr.isRow ? AND : AND + 1)}`
    case 'or':
      return `${print(expr.left, OR)} || ${print(expr.right, expr.isRow ? OR : OR + 1)}`
    case 'compare':
      return `${print(expr.left, RELATION)} ${expr.op} ${print(expr.right, RELATION + 1)}`
    case 'in':
      return `${print(expr.left, RELATION)} in [${expr.items.map((item) => print(item, OR)).join(', ')}]`
    case 'arithmetic': {
      const level = binding(expr)
      return `${print(expr.left, level)} ${expr.op} ${print(expr.right, level + 1)}`
    }
    default:
      return never(expr)
  }
}
