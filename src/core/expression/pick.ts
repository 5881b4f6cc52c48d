import type { CompareOp, Effect, Expr } from './ast'

/**
 * Conditions and effects as they are picked: groups of tests, each of one thing, one comparison and
 * one value. What can't be shown so is kept whole, so that picking never loses what was typed.
 */

export type Subject =
  | { readonly of: 'entry'; readonly id: string }
  | { readonly of: 'quest'; readonly id: string }
  | { readonly of: 'visits'; readonly id: string }
  | { readonly of: 'taken'; readonly id: string }
  /** Only in promises: the story rests at a beat, or has ended with an ending. */
  | { readonly of: 'at'; readonly id: string }
  | { readonly of: 'ended'; readonly id: string }

/** `is` is yes or no, for flags, choices taken, and where the story rests or how it ended. */
export type Comparison = 'is' | CompareOp | 'atLeast' | 'before'

export type Pick =
  | { readonly kind: 'group'; readonly all: boolean; readonly items: readonly Pick[] }
  | { readonly kind: 'not'; readonly item: Pick }
  | {
      readonly kind: 'test'
      readonly subject: Subject
      readonly comparison: Comparison
      readonly value: boolean | number | string
    }
  | { readonly kind: 'other'; readonly expr: Expr }

/** Whether something is yes or no (a flag): the parser can't know it from the name alone. */
export type IsFlag = (entry: string) => boolean

const NOWHERE = { start: 0, end: 0 }
const TURNED: Readonly<Record<CompareOp, CompareOp>> = {
  '==': '==',
  '!=': '!=',
  '<': '>',
  '<=': '>=',
  '>': '<',
  '>=': '<=',
}

export function pickOf(expr: Expr, isFlag: IsFlag): Pick {
  switch (expr.kind) {
    case 'and':
    case 'or': {
      const all = expr.kind === 'and'
      const parts = (side: Expr): Pick[] => {
        const pick = pickOf(side, isFlag)
        return pick.kind === 'group' && pick.all === all ? [...pick.items] : [pick]
      }
      return { kind: 'group', all, items: [...parts(expr.left), ...parts(expr.right)] }
    }
    case 'not': {
      const item = pickOf(expr.operand, isFlag)
      if (item.kind === 'test' && item.comparison === 'is') return { ...item, value: item.value !== true }
      return { kind: 'not', item }
    }
    case 'entry':
      return isFlag(expr.id)
        ? { kind: 'test', subject: { of: 'entry', id: expr.id }, comparison: 'is', value: true }
        : { kind: 'other', expr }
    case 'taken':
    case 'at':
    case 'ended':
      return { kind: 'test', subject: subjectOf(expr)!, comparison: 'is', value: true }
    case 'order': {
      const subject = subjectOf(expr.subject)
      return subject === undefined
        ? { kind: 'other', expr }
        : { kind: 'test', subject, comparison: expr.name, value: expr.position }
    }
    case 'compare': {
      const turned = valueOf(expr.left) !== undefined
      const [left, right] = turned ? [expr.right, expr.left] : [expr.left, expr.right]
      const subject = subjectOf(left)
      const value = valueOf(right)
      if (subject === undefined || value === undefined) return { kind: 'other', expr }
      if (typeof value === 'boolean')
        return { kind: 'test', subject, comparison: 'is', value: (expr.op === '==') === value }
      return { kind: 'test', subject, comparison: turned ? TURNED[expr.op] : expr.op, value }
    }
    case 'arithmetic':
    case 'bool':
    case 'in':
    case 'int':
    case 'negate':
    case 'quest':
    case 'string':
    case 'visits':
      return { kind: 'other', expr }
  }
}

/** The expression that a pick says; undefined for a group without items. */
export function exprOf(pick: Pick): Expr | undefined {
  switch (pick.kind) {
    case 'other':
      return pick.expr
    case 'not': {
      const operand = exprOf(pick.item)
      return operand && { kind: 'not', operand, ...NOWHERE }
    }
    case 'group':
      return pick.items
        .map(exprOf)
        .filter((item) => item !== undefined)
        .reduce<Expr | undefined>(
          (left, right) => (left === undefined ? right : { kind: pick.all ? 'and' : 'or', left, right, ...NOWHERE }),
          undefined,
        )
    case 'test': {
      const subject = exprOfSubject(pick.subject)
      const { comparison, value } = pick
      if (comparison === 'is') return value === true ? subject : { kind: 'not', operand: subject, ...NOWHERE }
      if (comparison === 'atLeast' || comparison === 'before')
        return { kind: 'order', name: comparison, subject, position: String(value), ...NOWHERE }
      return { kind: 'compare', op: comparison, left: subject, right: literal(value), ...NOWHERE }
    }
  }
}

function exprOfSubject({ of, id }: Subject): Expr {
  if (of === 'visits') return { kind: 'visits', beat: id, ...NOWHERE }
  if (of === 'taken') return { kind: 'taken', choice: id, ...NOWHERE }
  if (of === 'at') return { kind: 'at', beat: id, ...NOWHERE }
  if (of === 'ended') return { kind: 'ended', ending: id, ...NOWHERE }
  return { kind: of, id, ...NOWHERE }
}

function subjectOf(expr: Expr): Subject | undefined {
  if (expr.kind === 'entry' || expr.kind === 'quest') return { of: expr.kind, id: expr.id }
  if (expr.kind === 'visits') return { of: 'visits', id: expr.beat }
  if (expr.kind === 'taken') return { of: 'taken', id: expr.choice }
  if (expr.kind === 'at') return { of: 'at', id: expr.beat }
  if (expr.kind === 'ended') return { of: 'ended', id: expr.ending }
  return undefined
}

function valueOf(expr: Expr): boolean | number | string | undefined {
  if (expr.kind === 'bool' || expr.kind === 'int' || expr.kind === 'string') return expr.value
  if (expr.kind === 'negate' && expr.operand.kind === 'int') return -expr.operand.value
  return undefined
}

/** A value as it stands in an expression. */
export function literal(value: boolean | number | string): Expr {
  if (typeof value === 'boolean') return { kind: 'bool', value, ...NOWHERE }
  if (typeof value === 'string') return { kind: 'string', value, ...NOWHERE }
  return value < 0
    ? { kind: 'negate', operand: { kind: 'int', value: -value, ...NOWHERE }, ...NOWHERE }
    : { kind: 'int', value, ...NOWHERE }
}

/** An effect as it is picked: what is changed, how, to or by what. */
export interface EffectPick {
  readonly subject: { readonly of: 'entry' | 'quest'; readonly id: string }
  readonly how: 'set' | 'add' | 'subtract'
  readonly value: boolean | number | string
}

/** Undefined where the value is worked out, which is left to typing. */
export function effectPickOf(effect: Effect): EffectPick | undefined {
  const value = valueOf(effect.value)
  if (value === undefined) return undefined
  return effect.kind === 'stage'
    ? { subject: { of: 'quest', id: effect.quest }, how: 'set', value }
    : { subject: { of: 'entry', id: effect.entry }, how: effect.kind, value }
}

export function effectOf({ subject, how, value }: EffectPick): Effect {
  if (subject.of === 'quest') return { kind: 'stage', quest: subject.id, value: literal(value), ...NOWHERE }
  return { kind: how, entry: subject.id, value: literal(value), ...NOWHERE }
}
