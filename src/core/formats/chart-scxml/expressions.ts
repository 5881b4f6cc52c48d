import type { Effect, Expr } from '../../expression/ast'
import type { Condition, LinkedEffect, LinkedStory } from '../../story/linked'
import { isExact } from '../../survey/summaries/number-bounds'

/** Never false, and never true, as conditions of a state chart. */
export const TRUE = 'true'
export const FALSE = 'false'

/** Something that is set: where, and to what. */
export interface Assignment {
  readonly location: string
  readonly value: string
}

/**
 * Conditions and effects in ECMAScript (its fifth edition), over `ledger`, `quest`, `visits`, `taken` and `place`. Its
 * numbers are exact within ±(2^53 − 1): where a step could leave that, it is told.
 */
export class Expressions {
  /** Addresses under which numbers could be too large. */
  readonly inexact = new Set<string>()

  constructor(private readonly story: LinkedStory) {}

  /** A condition that was written; one that can't be understood never holds. */
  condition(condition: Condition | undefined): string {
    if (condition === undefined) return TRUE
    return condition.expr === undefined ? FALSE : this.print(condition.expr, condition.address)
  }

  effects(effects: readonly LinkedEffect[], owner: string): Assignment[] {
    return effects.map(({ effect }) => this.effect(effect, owner))
  }

  private effect(effect: Effect, owner: string): Assignment {
    const value = this.print(effect.value, owner)
    if (effect.kind === 'stage') return { location: `quest.${effect.quest}`, value }
    const location = `ledger.${effect.entry}`
    const { kind, min, max } = this.story.entries[this.story.entryOf.get(effect.entry)!]!
    if (kind !== 'counter' && kind !== 'item') return { location, value }
    if (effect.kind === 'set') return { location, value: `Math.max(${min}, Math.min(${max}, ${value}))` }
    const isAdd = effect.kind === 'add'
    const { start, end } = effect
    const left = { start, end, kind: 'entry' as const, id: effect.entry }
    this.within({ start, end, kind: 'arithmetic', op: isAdd ? '+' : '-', left, right: effect.value }, owner)
    return { location, value: `Math.max(${min}, Math.min(${max}, ${location} ${isAdd ? '+' : '-'} ${value}))` }
  }

  private print(expr: Expr, owner: string): string {
    const of = (part: Expr) => this.print(part, owner)
    switch (expr.kind) {
      case 'bool':
      case 'int':
        return expr.kind === 'int' && expr.value < 0 ? `(${expr.value})` : String(expr.value)
      case 'string':
        return scriptString(expr.value)
      case 'entry':
        return `ledger.${expr.id}`
      case 'quest':
        return `quest.${expr.id}`
      case 'visits':
        return `visits['${expr.beat}']`
      case 'taken':
        return `taken['${expr.choice}']`
      case 'order': {
        const order = this.orderOf(expr.subject)
        const sign = expr.name === 'atLeast' ? '>=' : '<'
        return `([${order.map(scriptString).join(', ')}].indexOf(${of(expr.subject)}) ${sign} ${order.indexOf(expr.position)})`
      }
      case 'not':
        return `!${of(expr.operand)}`
      case 'negate':
        this.within(expr, owner)
        return `(0 - ${of(expr.operand)})`
      case 'and':
        return `(${of(expr.left)} && ${of(expr.right)})`
      case 'or':
        return `(${of(expr.left)} || ${of(expr.right)})`
      case 'arithmetic':
        this.within(expr, owner)
        // + 0 turns −0 into 0
        return `(${of(expr.left)} ${expr.op} ${of(expr.right)}${expr.op === '*' ? ' + 0' : ''})`
      case 'compare': {
        const op = expr.op === '==' || expr.op === '!=' ? `${expr.op}=` : expr.op
        return `(${of(expr.left)} ${op} ${of(expr.right)})`
      }
      case 'in':
        return `([${expr.items.map(of).join(', ')}].indexOf(${of(expr.left)}) >= 0)`
      case 'at':
      case 'ended':
        // of promises alone
        return FALSE
    }
  }

  private orderOf(subject: Expr): readonly string[] {
    if (subject.kind === 'quest') return this.story.quests[this.story.questOf.get(subject.id)!]!.stages
    return subject.kind === 'entry' ? this.story.entries[this.story.entryOf.get(subject.id)!]!.positions : []
  }

  private within(number: Expr, owner: string): void {
    if (!isExact(this.story, number)) this.inexact.add(owner)
  }
}

/** A text as a literal that every edition of ECMAScript, and XML, can hold. */
export function scriptString(text: string): string {
  return JSON.stringify(text).replaceAll(
    /[\u007f-\u009f\u2028\u2029\ufffe\uffff]/g,
    (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )
}

/** What joins conditions that all have to hold. */
export function allOf(conditions: readonly string[]): string {
  const written = conditions.filter((one) => one !== TRUE)
  if (written.includes(FALSE)) return FALSE
  return written.length === 0 ? TRUE : written.join(' && ')
}

/** What joins conditions of which one has to hold. */
export function anyOf(conditions: readonly string[]): string {
  if (conditions.includes(TRUE)) return TRUE
  const written = conditions.filter((one) => one !== FALSE)
  return written.length === 0 ? FALSE : written.map((one) => `(${one})`).join(' || ')
}
