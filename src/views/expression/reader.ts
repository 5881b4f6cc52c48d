import type { ExpressionError } from '../../core/expression/ast'
import { checkCondition, checkEffect, type Scope } from '../../core/expression/check'
import { parseEffect, parseExpression } from '../../core/expression/parse'
import { sayCondition, sayEffect } from '../../core/expression/words'
import { scopeOf } from '../../core/story/scope'
import { storyNames } from '../../session/names'
import { useNaming } from '../shared/session/use-session'

export type Form = 'gate' | 'effect'

interface Read {
  /** In plain words, when it is understood. */
  readonly words: string | undefined
  readonly error: ExpressionError | undefined
}

function read(form: Form, source: string, scope: Scope, names: ReturnType<typeof storyNames>): Read {
  if (form === 'gate') {
    const parsed = parseExpression(source)
    const error = parsed.ok ? checkCondition(parsed.value, scope)[0] : parsed.error
    return { words: parsed.ok && error === undefined ? sayCondition(parsed.value, names) : undefined, error }
  }
  const parsed = parseEffect(source)
  const error = parsed.ok ? checkEffect(parsed.value, scope)[0] : parsed.error
  return { words: parsed.ok && error === undefined ? sayEffect(parsed.value, names) : undefined, error }
}

export function useReader(scene: string, promise = false) {
  const { story, declared } = useNaming()
  const scope = scopeOf(
    declared,
    declared.scenes.findIndex(({ id }) => id === scene),
    promise,
  )
  const names = storyNames(story)
  return {
    story,
    read: (form: Form, source: string) => read(form, source, scope, names),
    knows: (id: string) => !('trouble' in scope.entry(id)),
  }
}
