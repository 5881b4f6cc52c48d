import { ALL_PROMISE_PARTS, promisePart, type PromisePart } from './promise-parts'
import { NO_ADDRESS } from '../base/ids'
import { checkCondition, type Scope } from '../expression/check'
import type { Story } from './types'
import type { LinkedBeat, LinkedChoice, LinkedPromise, LinkedStory, LinkedTurns, Problem, Use } from './linked'
import { declareStory, uniqueIn, type DeclaredStory } from './declare'
import { linkBeat, type BeatContext } from './link-beat'
import { beatEdits, leadsTo, type BeatEdits, type BeatToLink, type HandedOut } from './link-again'
import { cachedExpression } from './link-parts'
import { freshMemo, turnsIn } from './linked-parts'
import { linkJournals } from './journals'
import { linkPeople } from './people'
import { translationProblems } from './languages'
import { scopeOf } from './scope'
import { noteReads } from './uses'

/** What is kept of a linked story for the one after an edit. */
interface Kept extends Names {
  /** By number of the beat: what is wrong in it, and the beats and choices that its conditions ask for. */
  readonly beats: readonly Checked[]
  readonly handedOut: HandedOut
  readonly promiseProblems: readonly Problem[]
}

/** All that is named outside of beats. */
interface Names {
  readonly declared: DeclaredStory
  readonly declaredProblems: readonly Problem[]
  readonly journals: ReturnType<typeof linkJournals>
  readonly called: ReturnType<typeof linkPeople>
  /** Of journals, and of what people are called. */
  readonly nameProblems: readonly Problem[]
}

interface Checked {
  readonly problems: readonly Problem[]
  readonly asked: readonly string[]
}

/** The beats of a story, linked. */
interface Beats {
  /** All by number; what was found in each beat by the beat's. */
  readonly all: LinkedBeat[]
  readonly choices: (LinkedChoice | undefined)[]
  readonly turnGroups: LinkedTurns[]
  readonly checked: Checked[]
  /** The numbers in the order of the document. */
  readonly inOrder: readonly number[]
  readonly handedOut: HandedOut
}

const NONE: readonly never[] = []
const SOUND: Checked = { problems: NONE, asked: NONE }

const kept = new WeakMap<LinkedStory, Kept>()

/** Numbers that are left for what edits add to so many things, before all is numbered anew. */
function spare(count: number): number {
  return count === 0 ? 0 : 2 + (count >> 5)
}

/**
 * Resolves a story's names. Never fails: what can't be understood becomes a problem. `before` is
 * the story as it was linked last: where an edit changed, added or took away only beats and choices, only those beats
 * are linked that it can have made a difference to, and all others are the same objects as before, with the same numbers.
 */
export function linkStory(doc: Story, before?: LinkedStory): LinkedStory {
  return (before && linkAgain(doc, before)) ?? linkWhole(doc)
}

function linkWhole(doc: Story): LinkedStory {
  const declaredProblems: Problem[] = []
  const declared = declareStory(doc, declaredProblems)
  const names = { declared, declaredProblems, ...linkNames(doc, declared) }
  const toLink: BeatToLink[] = []
  declared.sceneBeats.forEach((beats, scene) => {
    for (const { beat, choices } of beats) toLink.push({ scene, beat, choices, number: toLink.length })
  })
  const handedOut: HandedOut = { beats: toLink.length, choices: declared.choiceOf.size }
  const numbers = handedOut.beats + spare(handedOut.beats)
  const beats: Beats = {
    all: Array.from({ length: numbers }, (_, number) => spareBeat(number)),
    choices: new Array<LinkedChoice>(handedOut.choices + spare(handedOut.beats + handedOut.choices)),
    turnGroups: new Array<LinkedTurns>(declared.turnsOf.size),
    checked: new Array<Checked>(numbers).fill(SOUND),
    inOrder: toLink.map(({ number }) => number),
    handedOut,
  }
  linkBeats(toLink, declared, beats)
  return finish(doc, names, beats)
}

/** Undefined where the story has to be linked as a whole. */
function linkAgain(doc: Story, before: LinkedStory): LinkedStory | undefined {
  const known = kept.get(before)
  if (known === undefined || known.declaredProblems.some(({ part }) => part === 'id')) return undefined
  const edits = beatEdits(before, doc, known.handedOut)
  if (edits === undefined) return undefined
  const { beatOf, choiceOf, came, went } = edits
  const isRenamed = came + went.size > 0
  const declared: DeclaredStory = { ...known.declared, scenes: doc.scenes, beatOf, choiceOf }
  if (isRenamed && !sameProblems(linkNames(doc, declared).nameProblems, known.nameProblems)) return undefined
  const beats: Beats = {
    all: Array.from(before.beats),
    choices: Array.from(before.choices),
    turnGroups: [...before.turnGroups],
    checked: [...known.beats],
    inOrder: edits.inOrder,
    handedOut: edits.handedOut,
  }
  for (const number of edits.gone) {
    beats.all[number] = spareBeat(number)
    beats.checked[number] = SOUND
  }
  for (const address of went) {
    const choice = before.choiceOf.get(address)
    if (choice !== undefined) beats.choices[choice] = undefined
  }
  linkBeats([...edits.changed, ...(isRenamed ? concerned(doc, known, beats, edits) : NONE)], declared, beats)
  const linked = finish(doc, { ...known, declared }, beats)
  // a promise may ask for what came or went
  return isRenamed && !sameProblems(kept.get(linked)!.promiseProblems, known.promiseProblems) ? undefined : linked
}

/** Beats that were not edited themselves, for which it makes a difference what came or went. */
function concerned(doc: Story, known: Kept, { all }: Beats, edits: BeatEdits): BeatToLink[] {
  const { changed, came, went, gone, inOrder } = edits
  const edited = new Set(changed.map(({ number }) => number))
  const found: BeatToLink[] = []
  let position = 0
  doc.scenes.forEach((scene, at) => {
    for (const beat of scene.beats) {
      const number = inOrder[position]!
      position += 1
      if (edited.has(number)) continue
      const { problems, asked } = known.beats[number]!
      // whoever names what was not there has a problem with it
      const isConcerned =
        (came > 0 && problems.length > 0) ||
        asked.some((address) => went.has(address)) ||
        (gone.size > 0 && leadsTo(all[number]!, gone))
      if (isConcerned) found.push({ scene: at, beat, choices: beat.choices ?? NONE, number })
    }
  })
  return found
}

function linkNames(doc: Story, declared: DeclaredStory): Pick<Names, 'journals' | 'called' | 'nameProblems'> {
  const nameProblems: Problem[] = []
  const journals = linkJournals(doc, declared, nameProblems)
  const called = linkPeople(declared, nameProblems)
  return { journals, called, nameProblems }
}

function sameProblems(one: readonly Problem[], other: readonly Problem[]): boolean {
  return JSON.stringify(one) === JSON.stringify(other)
}

/** Links some beats, and puts them under their numbers. */
function linkBeats(toLink: readonly BeatToLink[], declared: DeclaredStory, beats: Beats): void {
  const { people, cues, scenes, entryOf, endingOf, beatOf, choiceOf, turnsOf } = declared
  const problems: Problem[] = []
  const asked: string[] = []
  let context: BeatContext | undefined
  for (const { scene, beat, choices, number } of toLink) {
    if (context?.scene !== scene) {
      const scope = noting(scopeOf(declared, scene), asked)
      context = { scene, scope, people, cues, entryOf, endingOf, beatOf, choiceOf, turnsOf, problems }
    }
    const linked = linkBeat(scenes[scene]!.id, beat, choices, context)
    beats.all[number] = linked
    for (const choice of linked.choices) beats.choices[choice.index] = choice
    for (const group of turnsIn(linked)) beats.turnGroups[group.index] = group
    beats.checked[number] =
      problems.length + asked.length === 0 ? SOUND : { problems: problems.splice(0), asked: asked.splice(0) }
  }
}

/** A scope that notes the beats and choices that are asked for. */
function noting(scope: Scope, asked: string[]): Scope {
  return {
    ...scope,
    hasBeat: (address) => {
      asked.push(address)
      return scope.hasBeat(address)
    },
    hasChoice: (address) => {
      asked.push(address)
      return scope.hasChoice(address)
    },
  }
}

/** What stands under a number that no beat has. */
function spareBeat(index: number): LinkedBeat {
  return {
    index,
    address: NO_ADDRESS,
    scene: -1,
    place: false,
    redirects: NONE,
    arrive: NONE,
    lines: NONE,
    choices: NONE,
    ask: undefined,
    ending: -1,
    onward: NONE,
    memo: freshMemo(),
  }
}

/** Puts a linked story together. */
function finish(doc: Story, names: Names, linkedBeats: Beats): LinkedStory {
  const { all, choices, turnGroups, checked, inOrder, handedOut } = linkedBeats
  const { declared, declaredProblems, nameProblems, journals, called } = names
  const { entries, quests, scenes, endings, cues, entryOf, questOf, endingOf, beatOf, choiceOf, turnsOf } = declared
  const beats = inOrder.map((number) => all[number]!)
  const problems = [...declaredProblems, ...nameProblems]
  for (const number of inOrder) for (const problem of checked[number]!.problems) problems.push(problem)
  const start = beatOf.get(doc.start) ?? -1
  if (start === -1) {
    const message =
      doc.start === '' ? 'the story has no first beat yet' : `the first beat, "${doc.start}", does not exist`
    problems.push({ address: 'story', part: 'start', message })
  }
  problems.push(...translationProblems(doc, declared, beats, journals.journals))
  const unique = uniqueIn(problems)
  const promiseUses: Use[] = []
  const promiseProblems: Problem[] = []
  const unlinked = unique(doc.promises, (promise) => promise.id)
  const promises = linkPromises(unlinked, scopeOf(declared, -1, true), promiseProblems, promiseUses)
  problems.push(...promiseProblems)
  const routes = unique(doc.routes, (route) => route.id)
  const linked: LinkedStory = {
    doc,
    entries,
    quests,
    scenes,
    endings,
    beats: all,
    choices,
    inOrder: beats,
    turnGroups,
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
  kept.set(linked, { ...names, beats: checked, handedOut, promiseProblems })
  return linked
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
