import { walk, type Expr } from '../expression/ast'
import { evaluate, holds, type Env, type Value } from '../expression/evaluate'
import type { LinkedChoice, LinkedStory } from '../story/linked'
import { openness } from './choices'
import { stateEnv, type PlayState } from './state'

/** A part of a gate that does not hold now, and what it saw. */
export interface FailingPart {
  readonly part: Expr
  readonly saw: readonly { readonly of: 'entry' | 'quest'; readonly id: string; readonly value: Value }[]
}

export type WhyClosed =
  | { readonly kind: 'gate'; readonly parts: readonly FailingPart[] }
  | { readonly kind: 'broken-gate'; readonly source: string }
  | { readonly kind: 'once' | 'nowhere' | 'no-place' | 'rules' }

/** Why a choice can't be taken in a resting state; undefined when it can. */
export function whyClosed(story: LinkedStory, state: PlayState, choice: LinkedChoice): WhyClosed | undefined {
  const found = openness(story, state, choice)
  if (found.open) return undefined
  if (found.why !== 'gate') return { kind: found.why }
  const { when } = choice
  if (when?.expr === undefined) return { kind: 'broken-gate', source: when?.source ?? '' }
  const env = stateEnv(story, state)
  return { kind: 'gate', parts: failingParts(when.expr, env).map((part) => ({ part, saw: sawIn(part, env) })) }
}

/** The smallest parts that make a condition false: of `and` those that fail, of `or` all. */
export function failingParts(expr: Expr, env: Env): Expr[] {
  if (holds(expr, env)) return []
  if (expr.kind === 'and' || expr.kind === 'or')
    return [...failingParts(expr.left, env), ...failingParts(expr.right, env)]
  return [expr]
}

function sawIn(expr: Expr, env: Env): FailingPart['saw'] {
  const saw = new Map<string, FailingPart['saw'][number]>()
  walk(expr, (part) => {
    if (part.kind === 'entry' || part.kind === 'quest')
      saw.set(`${part.kind} ${part.id}`, { of: part.kind, id: part.id, value: evaluate(part, env) })
  })
  return [...saw.values()]
}
