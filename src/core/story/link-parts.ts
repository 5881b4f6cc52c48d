import type { Result } from '../base/result'
import type { Effect, Expr, ExpressionError } from '../expression/ast'
import { checkCondition, checkEffect, type Scope } from '../expression/check'
import { parseEffect, parseExpression } from '../expression/parse'
import type { Condition, LinkedEffect, LinkedText, Problem } from './linked'
import { formatTrouble, isPlain, parseText, textArguments } from './text'

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
}

export function linkCondition(
  source: string | undefined,
  address: string,
  context: PartContext,
): Condition | undefined {
  if (source === undefined) return undefined
  const parsed = cachedExpression(source)
  const errors = parsed.ok ? checkCondition(parsed.value, context.scope) : [parsed.error]
  if (!parsed.ok || errors.length > 0) {
    const { message, start, end } = errors[0]!
    context.problems.push({ address, part: 'when', message, span: { start, end } })
    return { source, expr: undefined, address, part: 'when' }
  }
  return { source, expr: parsed.value, address, part: 'when' }
}

const NO_EFFECTS: readonly LinkedEffect[] = []

export function linkEffects(
  sources: readonly string[] | undefined,
  address: string,
  context: PartContext,
): readonly LinkedEffect[] {
  if (sources === undefined || sources.length === 0) return NO_EFFECTS
  const linked: LinkedEffect[] = []
  for (let at = 0; at < sources.length; at += 1) {
    const parsed = cachedEffect(sources[at]!)
    const errors = parsed.ok ? checkEffect(parsed.value, context.scope) : [parsed.error]
    if (!parsed.ok || errors.length > 0) {
      const { message, start, end } = errors[0]!
      context.problems.push({ address, part: `do${at + 1}`, message, span: { start, end } })
    } else linked.push({ number: at + 1, effect: parsed.value })
  }
  return linked
}

export function linkText(source: string, address: string, part: string, context: PartContext): LinkedText {
  if (isPlain(source)) return new PlainText(source)
  const parsed = parseText(source)
  const found = parsed.ok ? textArguments(parsed.value, context.scope) : parsed
  const trouble = !found.ok ? found.error : parsed.ok ? formatTrouble(parsed.value) : ''
  if (!parsed.ok || trouble !== undefined) {
    context.problems.push({ address, part, message: trouble ?? '' })
    return { source, isPlain: false, parsed: undefined }
  }
  return { source, isPlain: false, parsed: parsed.value }
}

/** Most texts are nothing but words, and nobody asks for their parts. */
class PlainText implements LinkedText {
  readonly isPlain = true

  constructor(readonly source: string) {}

  get parsed(): LinkedText['parsed'] {
    const parsed = parseText(this.source)
    return parsed.ok ? parsed.value : undefined
  }
}
