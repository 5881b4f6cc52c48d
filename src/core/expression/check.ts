import { never } from '../base/assert'
import type { Effect, Expr, ExpressionError, Missing, Span } from './ast'

export type ValueType = 'bool' | 'int' | 'string'

/** What a name stands for; `positions` are the only strings that it can hold (switches, quests), and `ownedBy` whose they are. */
export interface Typed {
  readonly type: ValueType
  readonly positions?: readonly string[]
  readonly ownedBy?: Owner
}

type Owner = { readonly entry: string } | { readonly quest: string }

/** What an effect may do to an entry. */
export interface Target extends Typed {
  readonly kind: 'flag' | 'switch' | 'counter' | 'item' | 'text'
  /** The game sets it, and the story only reads it. */
  readonly isGiven?: boolean
}

/** The names that an expression may use where it stands. */
export interface Scope {
  /** The entry, or what to tell the writer when it can't be used here. */
  entry(id: string): Target | { readonly trouble: string; readonly missing?: Missing }
  /** The quest's stages in declared order, `unstarted` first. */
  quest(id: string): readonly string[] | undefined
  hasBeat(address: string): boolean
  hasChoice(address: string): boolean
  hasEnding(id: string): boolean
  hasPerson(id: string): boolean
  /** `at` and `ended` have a meaning in promises only. */
  readonly promise: boolean
}

/** The errors of a condition; none means that it is a well-typed bool. */
export function checkCondition(expr: Expr, scope: Scope): ExpressionError[] {
  const errors: ExpressionError[] = []
  const type = typeOf(expr, scope, errors)
  if (errors.length === 0 && type?.type !== 'bool') {
    report(errors, expr, `a condition is true or false, and this is ${named(type!)}`)
  }
  return errors
}

/** The errors of an effect; none means that it can be executed. */
export function checkEffect(effect: Effect, scope: Scope): ExpressionError[] {
  const errors: ExpressionError[] = []
  if (effect.kind === 'stage') {
    const stages = scope.quest(effect.quest)
    if (stages === undefined) reportMissing(errors, effect, { of: 'quest', id: effect.quest })
    else if (effect.value.kind !== 'string') report(errors, effect.value, 'a quest is set to a stage in quotes')
    else if (!stages.includes(effect.value.value))
      reportOther(errors, effect.value, effect.value.value, { positions: stages, ownedBy: { quest: effect.quest } })
    return errors
  }
  const target = scope.entry(effect.entry)
  if ('trouble' in target) {
    report(errors, { start: effect.start, end: effect.start + effect.entry.length }, target.trouble, target.missing)
    return errors
  }
  if (target.isGiven === true) {
    report(errors, effect, givenTrouble(effect.entry))
    return errors
  }
  if (effect.kind !== 'set' && target.type !== 'int') {
    report(errors, effect, `only counters and items take += and -=; "${effect.entry}" is a ${target.kind}`)
    return errors
  }
  checkValue(effect.value, target, scope, errors)
  return errors
}

/** Why nothing in a story may write a given entry. */
export function givenTrouble(id: string): string {
  return `"${id}" is given by the game: the story only reads it`
}

function checkValue(value: Expr, target: Target, scope: Scope, errors: ExpressionError[]): void {
  switch (target.kind) {
    case 'switch':
      if (value.kind !== 'string') report(errors, value, 'a switch takes one of its positions in quotes')
      else if (!target.positions!.includes(value.value)) reportOther(errors, value, value.value, target)
      return
    case 'text': {
      if (value.kind === 'string') return
      const from = value.kind === 'entry' ? scope.entry(value.id) : undefined
      if (from !== undefined && 'trouble' in from) report(errors, value, from.trouble, from.missing)
      else if (from?.kind !== 'text')
        report(errors, value, 'a text entry takes a string in quotes or another text entry')
      return
    }
    case 'flag':
    case 'counter':
    case 'item': {
      const type = typeOf(value, scope, errors)
      if (errors.length === 0 && type!.type !== target.type) {
        report(
          errors,
          value,
          `a ${target.kind} takes ${target.type === 'bool' ? 'true or false' : 'a number'}, and this is ${named(type!)}`,
        )
      }
      return
    }
    default:
      never(target.kind)
  }
}

/** The type of an expression, or undefined when an error was reported in it. */
function typeOf(expr: Expr, scope: Scope, errors: ExpressionError[]): Typed | undefined {
  switch (expr.kind) {
    case 'bool':
      return { type: 'bool' }
    case 'int':
      return { type: 'int' }
    case 'string':
      return { type: 'string' }
    case 'entry': {
      const entry = scope.entry(expr.id)
      if ('trouble' in entry) return report(errors, expr, entry.trouble, entry.missing)
      return entry
    }
    case 'quest': {
      const stages = scope.quest(expr.id)
      if (stages === undefined) return reportMissing(errors, expr, { of: 'quest', id: expr.id })
      return { type: 'string', positions: stages, ownedBy: { quest: expr.id } }
    }
    case 'visits':
      if (!scope.hasBeat(expr.beat)) return reportMissing(errors, expr, { of: 'beat', id: expr.beat })
      return { type: 'int' }
    case 'taken':
      if (!scope.hasChoice(expr.choice)) return reportMissing(errors, expr, { of: 'choice', id: expr.choice })
      return { type: 'bool' }
    case 'at':
      if (!scope.promise) return report(errors, expr, 'at(…) has a meaning in promises only')
      if (!scope.hasBeat(expr.beat)) return reportMissing(errors, expr, { of: 'beat', id: expr.beat })
      return { type: 'bool' }
    case 'ended':
      if (!scope.promise) return report(errors, expr, 'ended(…) has a meaning in promises only')
      if (!scope.hasEnding(expr.ending)) return reportMissing(errors, expr, { of: 'ending', id: expr.ending })
      return { type: 'bool' }
    case 'order':
      return typeOfOrder(expr, scope, errors)
    case 'not':
      return wanted('bool', [expr.operand], '!', scope, errors)
    case 'negate':
      return wanted('int', [expr.operand], '-', scope, errors)
    case 'and':
    case 'or':
      return wanted('bool', [expr.left, expr.right], expr.kind === 'and' ? '&&' : '||', scope, errors)
    case 'arithmetic':
      return wanted('int', [expr.left, expr.right], expr.op, scope, errors)
    case 'compare': {
      if (expr.op === '==' || expr.op === '!=') {
        return same(expr.left, [expr.right], scope, errors)
      }
      const sides = wanted('int', [expr.left, expr.right], expr.op, scope, errors)
      return sides === undefined ? undefined : { type: 'bool' }
    }
    case 'in':
      return same(expr.left, expr.items, scope, errors)
    default:
      return never(expr)
  }
}

function typeOfOrder(expr: Expr & { kind: 'order' }, scope: Scope, errors: ExpressionError[]): Typed | undefined {
  const { subject } = expr
  if (subject.kind !== 'entry' && subject.kind !== 'quest') {
    return report(errors, subject, `${expr.name}(…) compares a switch or a quest`)
  }
  const type = typeOf(subject, scope, errors)
  if (type === undefined) return undefined
  if (type.positions === undefined) return report(errors, subject, `${expr.name}(…) compares a switch or a quest`)
  if (!type.positions.includes(expr.position)) return reportOther(errors, expr, expr.position, type)
  return { type: 'bool' }
}

function wanted(
  type: ValueType,
  parts: readonly Expr[],
  op: string,
  scope: Scope,
  errors: ExpressionError[],
): Typed | undefined {
  let sound = true
  for (const part of parts) {
    const found = typeOf(part, scope, errors)
    if (found !== undefined && found.type !== type) {
      report(errors, part, `${op} is for ${type === 'int' ? 'numbers' : 'true and false'}, and this is ${named(found)}`)
      sound = false
    } else if (found === undefined) sound = false
  }
  return sound ? { type } : undefined
}

/** `==`, `!=` and `in`: both sides of one type, and a literal beside a switch or quest one of its positions. */
function same(left: Expr, others: readonly Expr[], scope: Scope, errors: ExpressionError[]): Typed | undefined {
  const first = typeOf(left, scope, errors)
  let sound = first !== undefined
  for (const other of others) {
    const second = typeOf(other, scope, errors)
    if (first === undefined || second === undefined) {
      sound = false
      continue
    }
    const before = errors.length
    if (first.type !== second.type)
      report(errors, other, `this is ${named(second)}, and the other side is ${named(first)}`)
    else {
      literalFits(other, first, errors)
      literalFits(left, second, errors)
    }
    sound &&= errors.length === before
  }
  return sound ? { type: 'bool' } : undefined
}

function literalFits(literal: Expr, other: Typed, errors: ExpressionError[]): void {
  if (literal.kind !== 'string' || other.positions === undefined) return
  if (!other.positions.includes(literal.value)) reportOther(errors, literal, literal.value, other)
}

/** A string that is none of those that the other side can be. */
function reportOther(
  errors: ExpressionError[],
  span: Span,
  id: string,
  { positions = [], ownedBy }: Pick<Typed, 'positions' | 'ownedBy'>,
): undefined {
  const message = `'${id}' is not one of ${positions.map((position) => `'${position}'`).join(', ')}`
  const missing: Missing | undefined =
    ownedBy === undefined
      ? undefined
      : 'quest' in ownedBy
        ? { of: 'stage', quest: ownedBy.quest, id }
        : { of: 'position', entry: ownedBy.entry, id }
  return report(errors, span, message, missing)
}

function reportMissing(
  errors: ExpressionError[],
  span: Span,
  missing: Missing & { of: 'quest' | 'beat' | 'choice' | 'ending' },
): undefined {
  return report(errors, span, `there is no ${missing.of} "${missing.id}"`, missing)
}

function named(type: Typed): string {
  return type.type === 'bool' ? 'true or false' : type.type === 'int' ? 'a number' : 'a string'
}

function report(errors: ExpressionError[], span: Span, message: string, missing?: Missing): undefined {
  errors.push({ message, start: span.start, end: span.end, ...(missing === undefined ? {} : { missing }) })
  return undefined
}
