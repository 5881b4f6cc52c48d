import { ALL_PROMISE_PARTS, promisePart, type PromisePart } from './promise-parts'
import { checkCondition, type Scope } from '../expression/check'
import type { Beat, Choice, Story } from './types'
import type { LinkedBeat, LinkedPromise, LinkedStory, Problem, Use } from './linked'
import { declareStory, uniqueIn, type DeclaredStory } from './declare'
import { linkBeat, type BeatContext } from './link-beat'
import { cachedExpression } from './link-parts'
import { turnsIn } from './linked-parts'
import { linkJournals } from './journals'
import { linkPeople } from './people'
import { translationProblems } from './languages'
import { sameNames } from './same-names'
import { scopeOf } from './scope'
import { noteReads } from './uses'

interface Kept {
  readonly declared: DeclaredStory
  readonly journals: ReturnType<typeof linkJournals>
  readonly called: ReturnType<typeof linkPeople>
  readonly problems: readonly Problem[]
  /** Those of each beat. */
  readonly beats: readonly (readonly Problem[])[]
}

const NONE: readonly Problem[] = []

const kept = new WeakMap<LinkedStory, Kept>()

/**
 * Resolves a story's names. Never fails: what can't be understood becomes a problem. `before` is
 * the story as it was linked last: where an edit changed no name, only the beats that it changed
 * are linked, and all others are the same objects as before.
 */
export function linkStory(doc: Story, before?: LinkedStory): LinkedStory {
  const known = before && kept.get(before)
  const again = known !== undefined && known.problems.every(({ part }) => part !== 'id') && sameNames(before!.doc, doc)
  const declaredProblems: Problem[] = again ? [...known.problems] : []
  const declared = again ? { ...known.declared, scenes: doc.scenes } : declareStory(doc, declaredProblems)
  const journals = again ? known.journals : linkJournals(doc, declared, declaredProblems)
  const called = again ? known.called : linkPeople(declared, declaredProblems)
  const problems = [...declaredProblems]
  const { people, cues, scenes, entries, quests, endings, entryOf, questOf, endingOf, beatOf, choiceOf, turnsOf } =
    declared
  const troubles: (readonly Problem[])[] = again ? [...known.beats] : []
  const beats: LinkedBeat[] = again ? [...before!.beats] : []
  const changed: LinkedBeat[] = []
  let index = 0
  scenes.forEach((scene, s) => {
    const old = again ? before!.doc.scenes[s]! : undefined
    if (scene === old) {
      index += scene.beats.length
      return
    }
    const scope = scopeOf(declared, s)
    const own: Problem[] = []
    const context: BeatContext = {
      scene: s,
      scope,
      people,
      cues,
      entryOf,
      endingOf,
      beatOf,
      choiceOf,
      turnsOf,
      problems: own,
    }
    const link = (beat: Beat, choices: readonly Choice[]) => {
      const linked = linkBeat(scene.id, beat, choices, context)
      beats[index] = linked
      troubles[index] = own.length === 0 ? NONE : own.splice(0)
      if (again) changed.push(linked)
    }
    if (old === undefined) {
      for (const { beat, choices } of declared.sceneBeats[s]!) {
        link(beat, choices)
        index += 1
      }
      return
    }
    scene.beats.forEach((beat, at) => {
      if (beat !== old.beats[at]) link(beat, beat.choices ?? [])
      index += 1
    })
  })
  for (const own of troubles) for (const problem of own) problems.push(problem)

  const start = beatOf.get(doc.start) ?? -1
  if (start === -1) {
    const message =
      doc.start === '' ? 'the story has no first beat yet' : `the first beat, "${doc.start}", does not exist`
    problems.push({ address: 'story', part: 'start', message })
  }
  problems.push(...translationProblems(doc, declared, beats, journals.journals))
  const unique = uniqueIn(problems)
  const promiseUses: Use[] = []
  const promises = linkPromises(
    unique(doc.promises, (promise) => promise.id),
    scopeOf(declared, -1, true),
    problems,
    promiseUses,
  )
  const routes = unique(doc.routes, (route) => route.id)
  const linked: LinkedStory = {
    doc,
    entries,
    quests,
    scenes,
    endings,
    beats,
    choices: again
      ? replaced(
          before!.choices,
          changed.flatMap(({ choices }) => choices),
        )
      : beats.flatMap((beat) => beat.choices),
    turnGroups: again ? replaced(before!.turnGroups, changed.flatMap(turnsIn)) : beats.flatMap(turnsIn),
    promises,
    routes,
    people: called.people,
    cues,
    entryOf,
    questOf,
    endingOf,
    beatOf,
    choiceOf,
    turnsOf,
    start,
    problems,
    promiseUses,
    journals: journals.journals,
    journalUses: journals.uses,
    calledUses: called.uses,
  }
  kept.set(linked, { declared, journals, called, problems: declaredProblems, beats: troubles })
  return linked
}

/** The choices, or groups in turn, after some were linked anew that are called as before. */
function replaced<T extends { readonly index: number }>(all: readonly T[], changed: readonly T[]): readonly T[] {
  if (changed.length === 0) return all
  const list = [...all]
  for (const one of changed) list[one.index] = one
  return list
}

function linkPromises(
  promises: NonNullable<Story['promises']>,
  scope: Scope,
  problems: Problem[],
  uses: Use[],
): LinkedPromise[] {
  const linked: LinkedPromise[] = []
  for (const promise of promises) {
    const exprs: Partial<Record<PromisePart, LinkedPromise['holds']>> = {}
    let sound = true
    for (const part of ALL_PROMISE_PARTS) {
      const source = promisePart(promise, part)
      if (source === undefined) continue
      const parsed = cachedExpression(source)
      const errors = parsed.ok ? checkCondition(parsed.value, scope) : [parsed.error]
      if (errors.length > 0 || !parsed.ok) {
        const { message, start, end } = errors[0]!
        problems.push({ address: promise.id, part, message, span: { start, end } })
        sound = false
        continue
      }
      exprs[part] = parsed.value
      noteReads(parsed.value, promise.id, part, uses)
    }
    if (sound)
      linked.push({
        id: promise.id,
        promise,
        holds: exprs.holds,
        while: exprs.while,
        first: exprs.first,
        then: exprs.then,
      })
  }
  return linked
}
