import type { Expr } from '../expression/ast'
import type { Condition, LinkedBeat, LinkedEffect, LinkedLine, LinkedStory, LinkedText } from '../story/linked'

/** One owner of a condition and effects, wherever it stands in a beat. */
export interface Owner {
  readonly address: string
  readonly when: Condition | undefined
  readonly effects: readonly LinkedEffect[]
}

const NO_EFFECTS: readonly LinkedEffect[] = []

const owners = new WeakMap<LinkedBeat, readonly Owner[]>()

/** Every owner of a beat in document order. */
export function ownersOf(beat: LinkedBeat): readonly Owner[] {
  let list = owners.get(beat)
  if (list === undefined) {
    list = listOwners(beat)
    owners.set(beat, list)
  }
  return list
}

function listOwners(beat: LinkedBeat): Owner[] {
  return [
    ...beat.redirects,
    ...beat.arrive,
    ...beat.lines.flatMap((line): Owner[] =>
      line.kind === 'line'
        ? [line]
        : line.variants.flatMap((variant) => [{ address: variant.address, when: variant.when, effects: NO_EFFECTS }, ...variant.lines]),
    ),
    ...beat.choices.flatMap((choice): Owner[] => (choice.to.kind === 'rules' ? [choice, ...choice.to.rules] : [choice])),
    ...beat.onward,
  ]
}

const lines = new WeakMap<LinkedBeat, readonly LinkedLine[]>()

export function linesOf(beat: LinkedBeat): readonly LinkedLine[] {
  let list = lines.get(beat)
  if (list === undefined) {
    list = beat.lines.flatMap((line) => (line.kind === 'line' ? [line] : line.variants.flatMap((variant) => variant.lines)))
    lines.set(beat, list)
  }
  return list
}

/** Every sound condition, those of promises too. */
export function eachCondition(story: LinkedStory, visit: (expr: Expr) => void): void {
  for (const beat of story.beats) {
    for (const { when } of ownersOf(beat)) if (when?.expr !== undefined) visit(when.expr)
  }
  for (const promise of story.promises) for (const expr of promiseParts(promise)) visit(expr)
}

export function promiseParts(promise: LinkedStory['promises'][number]): Expr[] {
  return [promise.holds, promise.while, promise.first, promise.then].filter((expr) => expr !== undefined)
}

export function eachEffect(story: LinkedStory, visit: (effect: LinkedEffect, owner: string) => void): void {
  for (const beat of story.beats) {
    for (const owner of ownersOf(beat)) for (const effect of owner.effects) visit(effect, owner.address)
  }
}

/** The texts that a beat shows. */
export function textsOf(beat: LinkedBeat): LinkedText[] {
  const texts = [...linesOf(beat).map((line) => line.text), ...beat.choices.map((choice) => choice.text)]
  return beat.ask === undefined ? texts : [...texts, beat.ask.prompt]
}

export function eachText(story: LinkedStory, visit: (text: LinkedText) => void): void {
  for (const beat of story.beats) for (const text of textsOf(beat)) visit(text)
}
