import { never } from '../base/assert'
import type { CompareOp, Effect, Expr } from './ast'

/** What the things in an expression are called on the page. */
export interface Names {
  entry(id: string): string
  quest(id: string): string
  stage(quest: string, stage: string): string
  beat(address: string): string
  choice(address: string): string
  ending(id: string): string
}

/** A condition in plain words: "rope is at least 1 and not toll paid". */
export function sayCondition(expr: Expr, names: Names): string {
  return say(expr, names, false)
}

/** An effect in plain words: "tide −1", "Mend the sluice: asked". */
export function sayEffect(effect: Effect, names: Names): string {
  if (effect.kind === 'stage') {
    const stage =
      effect.value.kind === 'string' ? names.stage(effect.quest, effect.value.value) : value(effect.value, names)
    return `${names.quest(effect.quest)}: ${stage}`
  }
  const name = names.entry(effect.entry)
  const said = value(effect.value, names)
  if (effect.kind === 'add') return `${name} +${said}`
  if (effect.kind === 'subtract') return `${name} −${said}`
  if (effect.value.kind === 'bool') return effect.value.value ? `${name}: yes` : `${name}: no`
  return `${name} becomes ${said}`
}

const COMPARISONS: Readonly<Record<CompareOp, string>> = {
  '==': 'is',
  '!=': 'is not',
  '<': 'is less than',
  '<=': 'is at most',
  '>': 'is more than',
  '>=': 'is at least',
}

const OPPOSITE: Readonly<Record<CompareOp, CompareOp>> = {
  '==': '!=',
  '!=': '==',
  '<': '>=',
  '<=': '>',
  '>': '<=',
  '>=': '<',
}

function say(expr: Expr, names: Names, inner: boolean): string {
  switch (expr.kind) {
    case 'bool':
      return expr.value ? 'always' : 'never'
    case 'entry':
      return names.entry(expr.id)
    case 'not':
      return sayNot(expr.operand, names)
    case 'and':
    case 'or': {
      const joined = `${say(expr.left, names, expr.left.kind !== expr.kind)} ${expr.kind} ${say(expr.right, names, true)}`
      return inner ? `(${joined})` : joined
    }
    case 'compare':
      return sayCompare(expr.op, expr.left, expr.right, names)
    case 'in':
      return `${value(expr.left, names)} is ${listed(expr, names)}`
    case 'order': {
      const told = position(expr.subject, expr.position, names)
      return `${value(expr.subject, names)} is ${expr.name === 'atLeast' ? `at least ${told}` : `before ${told}`}`
    }
    case 'taken':
      return `${names.choice(expr.choice)} was taken`
    case 'at':
      return `the story is at ${names.beat(expr.beat)}`
    case 'ended':
      return `the story has ended with ${names.ending(expr.ending)}`
    case 'int':
    case 'string':
    case 'quest':
    case 'visits':
    case 'negate':
    case 'arithmetic':
      return value(expr, names)
    default:
      return never(expr)
  }
}

function sayNot(operand: Expr, names: Names): string {
  switch (operand.kind) {
    case 'entry':
      return `not ${names.entry(operand.id)}`
    case 'compare':
      return sayCompare(OPPOSITE[operand.op], operand.left, operand.right, names)
    case 'taken':
      return `${names.choice(operand.choice)} was not taken`
    case 'at':
      return `the story is not at ${names.beat(operand.beat)}`
    case 'ended':
      return `the story has not ended with ${names.ending(operand.ending)}`
    case 'in':
      return `${value(operand.left, names)} is not ${listed(operand, names)}`
    case 'and':
    case 'arithmetic':
    case 'bool':
    case 'int':
    case 'negate':
    case 'not':
    case 'or':
    case 'order':
    case 'quest':
    case 'string':
    case 'visits':
      return `not ${say(operand, names, true)}`
  }
}

function sayCompare(op: CompareOp, left: Expr, right: Expr, names: Names): string {
  if (left.kind === 'visits' && right.kind === 'int') return sayVisits(op, names.beat(left.beat), right.value)
  if (left.kind === 'quest' && right.kind === 'string' && right.value === 'unstarted') {
    if (op === '==') return `${names.quest(left.id)} is not started`
    if (op === '!=') return `${names.quest(left.id)} is started`
  }
  const told = right.kind === 'string' ? position(left, right.value, names) : value(right, names)
  return `${value(left, names)} ${COMPARISONS[op]} ${told}`
}

function sayVisits(op: CompareOp, beat: string, count: number): string {
  const times = count === 1 ? 'once' : `${count} times`
  if ((op === '==' && count === 0) || (op === '<' && count === 1)) return `${beat} not visited yet`
  if ((op === '>' && count === 0) || (op === '>=' && count === 1) || (op === '!=' && count === 0))
    return `${beat} visited`
  if (op === '==') return `${beat} visited just ${times}`
  if (op === '!=') return `${beat} not visited just ${times}`
  const words = { '<': 'less than', '<=': 'at most', '>': 'more than', '>=': 'at least' }[op]
  return `${beat} visited ${words} ${times}`
}

function listed(expr: Expr & { kind: 'in' }, names: Names): string {
  if (expr.items.length === 0) return 'one of nothing'
  const told = expr.items.map((item) =>
    item.kind === 'string' ? position(expr.left, item.value, names) : value(item, names),
  )
  return told.length === 1 ? told[0]! : `${told.slice(0, -1).join(', ')} or ${told.at(-1)}`
}

function position(subject: Expr, literal: string, names: Names): string {
  if (subject.kind === 'quest') return `at “${names.stage(subject.id, literal)}”`
  return literal === '' ? 'empty' : literal
}

function value(expr: Expr, names: Names): string {
  switch (expr.kind) {
    case 'int':
      return String(expr.value)
    case 'string':
      return expr.value === '' ? 'empty' : `“${expr.value}”`
    case 'bool':
      return expr.value ? 'yes' : 'no'
    case 'entry':
      return names.entry(expr.id)
    case 'quest':
      return names.quest(expr.id)
    case 'visits':
      return `visits to ${names.beat(expr.beat)}`
    case 'negate': {
      const said = value(expr.operand, names)
      return expr.operand.kind === 'arithmetic' ? `−(${said})` : `−${said}`
    }
    case 'arithmetic': {
      const sign = expr.op === '*' ? '×' : expr.op === '-' ? '−' : '+'
      const side = (part: Expr) =>
        expr.op === '*' && part.kind === 'arithmetic' ? `(${value(part, names)})` : value(part, names)
      const right =
        expr.op === '-' && expr.right.kind === 'arithmetic' ? `(${value(expr.right, names)})` : side(expr.right)
      return `${side(expr.left)} ${sign} ${right}`
    }
    case 'and':
    case 'at':
    case 'compare':
    case 'ended':
    case 'in':
    case 'not':
    case 'or':
    case 'order':
    case 'taken':
      return say(expr, names, true)
  }
}
