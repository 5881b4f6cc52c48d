import type { Expr } from '../expression/ast'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  LinkedStory,
  LinkedText,
  LinkedTurns,
  Numbered,
} from './linked'

/** One owner of a condition and effects, wherever it stands in a beat. */
export interface Owner {
  readonly address: string
  readonly when: Condition | undefined
  readonly effects: readonly LinkedEffect[]
}

/** What is known of a beat by others when it is made: nothing. */
export function freshMemo(): LinkedBeat['memo'] {
  return { owners: undefined, summary: undefined, missing: undefined }
}

/** The choices of a story in the order of the document. */
export function choicesOf({ inOrder }: LinkedStory): readonly LinkedChoice[] {
  const all: LinkedChoice[] = []
  for (let at = 0; at < inOrder.length; at += 1) {
    const { choices } = inOrder[at]!
    for (let own = 0; own < choices.length; own += 1) all.push(choices[own]!)
  }
  return all
}

/** Things by their numbers. */
export function numbered<T extends { readonly index: number }>(length: number, all: readonly T[]): Numbered<T> {
  const list = new Array<T>(length)
  for (const one of all) list[one.index] = one
  return list
}

/** By the number of a beat, its position in the document; -1 where no beat has the number. */
export function positionsInDocument({ beats, inOrder }: LinkedStory): Int32Array {
  const positions = new Int32Array(beats.length).fill(-1)
  inOrder.forEach(({ index }, position) => (positions[index] = position))
  return positions
}

/** Whether beats that both stories have stand in another order. */
export function isReordered(story: LinkedStory, old: LinkedStory): boolean {
  const positions = positionsInDocument(old)
  let last = -1
  return story.inOrder.some(({ index }) => {
    const position = positions[index]!
    if (position === -1) return false
    const isBefore = position < last
    last = position
    return isBefore
  })
}

/** The beats that an edit changed, made or took away, by number; of stories with as many numbers. */
export function changedBeats(story: LinkedStory, before: LinkedStory): readonly number[] {
  const changed: number[] = []
  for (let beat = 0; beat < story.beats.length; beat += 1)
    if (story.beats[beat] !== before.beats[beat]) changed.push(beat)
  return changed
}

const NO_EFFECTS: readonly LinkedEffect[] = []
const NO_TURNS: LinkedTurns['turns'] = []

/** Every owner of a beat in document order. */
export function ownersOf(beat: LinkedBeat): readonly Owner[] {
  return (beat.memo.owners ??= listOwners(beat)) as readonly Owner[]
}

function listOwners(beat: LinkedBeat): Owner[] {
  const list: Owner[] = []
  eachOwner(beat, (address, when, effects) => list.push({ address, when, effects }))
  return list
}

/** The same, without listing them. */
export function eachOwner(
  beat: LinkedBeat,
  hear: (address: string, when: Condition | undefined, effects: readonly LinkedEffect[]) => void,
): void {
  const all = (owners: readonly Owner[]) => {
    for (let at = 0; at < owners.length; at += 1) hear(owners[at]!.address, owners[at]!.when, owners[at]!.effects)
  }
  all(beat.redirects)
  all(beat.arrive)
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') hear(line.address, line.when, line.effects)
    else if (line.kind === 'turns') {
      hear(line.address, line.when, NO_EFFECTS)
      for (const turn of line.turns) all(turn.lines)
    } else
      for (let index = 0; index < line.variants.length; index += 1) {
        const variant = line.variants[index]!
        hear(variant.address, variant.when, NO_EFFECTS)
        all(variant.lines)
        for (const turn of variant.turns?.turns ?? NO_TURNS) all(turn.lines)
      }
  }
  for (let at = 0; at < beat.choices.length; at += 1) {
    const choice = beat.choices[at]!
    hear(choice.address, choice.when, choice.effects)
    if (choice.to.kind === 'rules') all(choice.to.rules)
  }
  all(beat.onward)
}

export function linesOf(beat: LinkedBeat): readonly LinkedLine[] {
  const lines: LinkedLine[] = []
  eachLine(beat, (line) => lines.push(line))
  return lines
}

/** The groups in turn of a beat, those of variants too. */
export function turnsIn(beat: LinkedBeat): readonly LinkedTurns[] {
  let found: LinkedTurns[] | undefined
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'turns') (found ??= []).push(line)
    else if (line.kind === 'group')
      for (const { turns } of line.variants) if (turns !== undefined) (found ??= []).push(turns)
  }
  return found ?? NO_GROUPS
}

const NO_GROUPS: readonly LinkedTurns[] = []

export function promiseParts(promise: LinkedStory['promises'][number]): Expr[] {
  return [promise.holds, promise.while, promise.first, promise.then].filter((expr) => expr !== undefined)
}

export function eachEffect(story: LinkedStory, visit: (effect: LinkedEffect, owner: string) => void): void {
  for (const beat of story.inOrder) {
    for (const owner of ownersOf(beat)) for (const effect of owner.effects) visit(effect, owner.address)
  }
}

/** The lines of a beat, those of variants and turns too. */
export function eachLine(beat: LinkedBeat, hear: (line: LinkedLine) => void): void {
  const each = (line: LinkedLine) => hear(line)
  for (let at = 0; at < beat.lines.length; at += 1) {
    const line = beat.lines[at]!
    if (line.kind === 'line') hear(line)
    else if (line.kind === 'turns') for (const turn of line.turns) turn.lines.forEach(each)
    else
      for (let index = 0; index < line.variants.length; index += 1) {
        const variant = line.variants[index]!
        variant.lines.forEach(each)
        for (const turn of variant.turns?.turns ?? NO_TURNS) turn.lines.forEach(each)
      }
  }
}

/** The texts that a beat shows, each with the address and the key that it stands under. */
export function eachText(
  beat: LinkedBeat,
  hear: (text: LinkedText, address: string, part: 'text' | 'prompt') => void,
): void {
  eachLine(beat, (line) => hear(line.text, line.address, 'text'))
  for (let at = 0; at < beat.choices.length; at += 1) hear(beat.choices[at]!.text, beat.choices[at]!.address, 'text')
  if (beat.ask !== undefined) hear(beat.ask.prompt, beat.address, 'prompt')
}
