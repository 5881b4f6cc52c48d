import { assert, never } from '../base/assert'
import type { CompareOp, Expr } from './ast'
import { add, multiply, negate, subtract, type Int } from './integers'

export type Value = boolean | Int | string

/** Where an expression finds its values. */
export interface Env {
  entry(id: string): Value
  quest(id: string): string
  visits(beat: string): number
  taken(choice: string): boolean
  at(beat: string): boolean
  ended(ending: string): boolean
  /** The declared order of a switch's positions, or a quest's stages with `unstarted` first. */
  order(subject: Expr): readonly string[]
}

/** The value of a checked expression. Throws on an unchecked one that is wrong. */
export function evaluate(expr: Expr, env: Env): Value {
  switch (expr.kind) {
    case 'bool':
    case 'int':
    case 'string':
      return expr.value
    case 'entry':
      return env.entry(expr.id)
    case 'quest':
      return env.quest(expr.id)
    case 'visits':
      return env.visits(expr.beat)
    case 'taken':
      return env.taken(expr.choice)
    case 'at':
      return env.at(expr.beat)
    case 'ended':
      return env.ended(expr.ending)
    case 'order': {
      const order = env.order(expr.subject)
      const rank = order.indexOf(String(evaluate(expr.subject, env)))
      const wanted = order.indexOf(expr.position)
      return expr.name === 'atLeast' ? rank >= wanted : rank < wanted
    }
    case 'not':
      return !evaluate(expr.operand, env)
    case 'negate':
      return negate(int(expr.operand, env))
    case 'and':
      return evaluate(expr.left, env) === true && evaluate(expr.right, env) === true
    case 'or':
      return evaluate(expr.left, env) === true || evaluate(expr.right, env) === true
    case 'arithmetic': {
      const left = int(expr.left, env)
      const right = int(expr.right, env)
      return expr.op === '+' ? add(left, right) : expr.op === '-' ? subtract(left, right) : multiply(left, right)
    }
    case 'compare':
      return compare(expr.op, evaluate(expr.left, env), evaluate(expr.right, env))
    case 'in': {
      const left = evaluate(expr.left, env)
      return expr.items.some((item) => evaluate(item, env) === left)
    }
    default:
      return never(expr)
  }
}

/** Whether a checked condition holds. */
export function holds(expr: Expr, env: Env): boolean {
  return evaluate(expr, env) === true
}

function int(expr: Expr, env: Env): Int {
  const value = evaluate(expr, env)
  assert(typeof value === 'number' || typeof value === 'bigint', 'an unchecked expression was evaluated')
  return value
}

/** How two values of one kind compare. */
export function compare(op: CompareOp, left: Value, right: Value): boolean {
  switch (op) {
    case '==':
      return left === right
    case '!=':
      return left !== right
    case '<':
      return left < right
    case '<=':
      return left <= right
    case '>':
      return left > right
    case '>=':
      return left >= right
    default:
      return never(op)
  }
}
