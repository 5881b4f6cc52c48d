import { checkCondition, type Scope } from '../expression/check'
import type { Story } from './types'
import type { LinkedPromise, LinkedStory, Problem, Use } from './linked'
import { declareStory } from './declare'
import { linkBeat, type BeatContext } from './link-beat'
import { cachedExpression, noteUses } from './link-parts'
import { scopeOf } from './scope'

/** Resolves a story's names. Never fails: what can't be understood becomes a problem. */
export function linkStory(doc: Story): LinkedStory {
  const problems: Problem[] = []
  const uses: Use[] = []
  const declared = declareStory(doc, problems)
  const { people, scenes, entries, quests, endings, sceneBeats, entryOf, questOf, endingOf, beatOf, choiceOf, unique } = declared
  const beats = scenes.flatMap((scene, s) => {
    const context: BeatContext = { scene: s, scope: scopeOf(declared, s), people, entryOf, endingOf, beatOf, choiceOf, problems, uses }
    return sceneBeats[s]!.map(({ beat, choices }) => linkBeat(scene.id, beat, choices, context))
  })

  const start = beatOf.get(doc.start) ?? -1
  if (start === -1) {
    const message = doc.start === '' ? 'the story has no first beat yet' : `the first beat, "${doc.start}", does not exist`
    problems.push({ address: 'story', part: 'start', message })
  }
  const promises = linkPromises(unique(doc.promises, (promise) => promise.id), scopeOf(declared, -1, true), problems, uses)
  const routes = unique(doc.routes, (route) => route.id)
  return {
    doc, entries, quests, scenes, endings, beats, choices: beats.flatMap((beat) => beat.choices), promises, routes, people,
    entryOf, questOf, endingOf, beatOf, choiceOf, start, problems, uses,
  }
}

function linkPromises(promises: NonNullable<Story['promises']>, scope: Scope, problems: Problem[], uses: Use[]): LinkedPromise[] {
  const linked: LinkedPromise[] = []
  for (const promise of promises) {
    const parts = { ...promise } as unknown as Record<string, unknown>
    const exprs: Record<string, LinkedPromise['holds']> = {}
    let sound = true
    for (const part of ['holds', 'while', 'first', 'then']) {
      const source = parts[part]
      const written = promise.kind === 'inOrder' ? part === 'first' || part === 'then' : part === 'holds' || (part === 'while' && promise.kind === 'stillPossible')
      if (!written || typeof source !== 'string') continue
      const parsed = cachedExpression(source)
      const errors = parsed.ok ? checkCondition(parsed.value, scope) : [parsed.error]
      if (errors.length > 0 || !parsed.ok) {
        const { message, start, end } = errors[0]!
        problems.push({ address: promise.id, part, message, span: { start, end } })
        sound = false
        continue
      }
      exprs[part] = parsed.value
      noteUses(parsed.value, promise.id, part, uses)
    }
    if (sound) linked.push({ id: promise.id, promise, holds: exprs.holds, while: exprs.while, first: exprs.first, then: exprs.then })
  }
  return linked
}
