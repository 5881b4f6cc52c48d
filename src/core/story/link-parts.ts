import type { Result } from '../base/result'
import { walk, type Effect, type Expr, type ExpressionError } from '../expression/ast'
import { checkCondition, checkEffect, type Scope } from '../expression/check'
import { parseEffect, parseExpression } from '../expression/parse'
import type { Condition, LinkedEffect, LinkedText, Problem, Use } from './linked'
import { parseText, textArguments } from './text'

/** Expressions are parsed again after every edit; most of them are the same text as before. */
const CACHE_MAX = 200_000
const expressions = new Map<string, Result<Expr, ExpressionError>>()
const effects = new Map<string, Result<Effect, ExpressionError>>()

function remembered<T>(cache: Map<string, T>, source: string, make: (source: string) => T): T {
  const known = cache.get(source)
  if (known !== undefined) return known
  if (cache.size >= CACHE_MAX) cache.clear()
  const made = make(source)
  cache.set(source, made)
  return made
}

export function cachedExpression(source: string): Result<Expr, ExpressionError> {
  return remembered(expressions, source, parseExpression)
}

export function cachedEffect(source: string): Result<Effect, ExpressionError> {
  return remembered(effects, source, parseEffect)
}

/** Where the parts of one scene are linked: what is in scope, and where findings go. */
export interface PartContext {
  readonly scope: Scope
  readonly problems: Problem[]
  readonly uses: Use[]
}

export function linkCondition(source: string | undefined, address: string, context: PartContext): Condition | undefined {
  if (source === undefined) return undefined
  const parsed = cachedExpression(source)
  const errors = parsed.ok ? checkCondition(parsed.value, context.scope) : [parsed.error]
  if (!parsed.ok || errors.length > 0) {
    const { message, start, end } = errors[0]!
    context.problems.push({ address, part: 'when', message, span: { start, end } })
    return { source, expr: undefined, address, part: 'when' }
  }
  noteUses(parsed.value, address, 'when', context.uses)
  return { source, expr: parsed.value, address, part: 'when' }
}

export function linkEffects(sources: readonly string[] | undefined, address: string, context: PartContext): LinkedEffect[] {
  const linked: LinkedEffect[] = []
  sources?.forEach((source, at) => {
    const part = `do${at + 1}`
    const parsed = cachedEffect(source)
    const errors = parsed.ok ? checkEffect(parsed.value, context.scope) : [parsed.error]
    if (!parsed.ok || errors.length > 0) {
      const { message, start, end } = errors[0]!
      context.problems.push({ address, part, message, span: { start, end } })
      return
    }
    const effect = parsed.value
    noteUses(effect.value, address, part, context.uses)
    const written = effect.kind === 'stage' ? { of: 'quest' as const, id: effect.quest } : { of: 'entry' as const, id: effect.entry }
    context.uses.push({ ...written, how: 'write', address, part })
    linked.push({ number: at + 1, effect })
  })
  return linked
}

export function linkText(source: string, address: string, part: string, context: PartContext): LinkedText {
  const parsed = parseText(source)
  const found = parsed.ok ? textArguments(parsed.value, context.scope) : parsed
  if (!parsed.ok || !found.ok) {
    context.problems.push({ address, part, message: found.ok ? '' : found.error })
    return { source, parsed: undefined }
  }
  for (const argument of found.value) context.uses.push({ ...argument, how: 'read', address, part })
  return { source, parsed: parsed.value }
}

/** Notes every entry and quest that a sound expression reads. */
export function noteUses(expr: Expr, address: string, part: string, uses: Use[]): void {
  walk(expr, (inner) => {
    if (inner.kind === 'entry' || inner.kind === 'quest') uses.push({ of: inner.kind, id: inner.id, how: 'read', address, part })
  })
}
