import type { LinkedEntry, LinkedStory } from '../../story/linked'
import type { WhenGiven } from '../../story/types'
import { classStarts, givenClasses } from '../summaries/given-classes'
import { summaryOf } from '../summaries/summarise'
import { lastAtMost } from '../../base/last-at-most'
import { askedFor, variablesOf } from '../summaries/variables'
import { choicesOf, promiseParts } from '../../story/linked-parts'
import { countOf } from '../../story/turns'
import type { Demands } from '../summaries/demands'
import { wordDomains, type WordDomain } from '../summaries/word-domains'

/**
 * What a state of the search remembers, one slot a variable. Only what something can read gets a
 * slot: visit counts that a condition asks for, choices that are `once` or asked for by `taken`.
 */
export type Slot = {
  readonly index: number
  /** Smallest and largest value, as held in the working vector. */
  readonly min: number
  readonly max: number
  readonly initial: number
} & (
  | {
      readonly kind: 'entry'
      readonly entry: number
      readonly words: WordDomain | undefined
      readonly wide: WideValues | undefined
      /** Set by the game: the values that it may set, the initial one first. */
      readonly given: Given | undefined
    }
  | { readonly kind: 'quest'; readonly quest: number }
  | { readonly kind: 'visits'; readonly beat: number }
  | { readonly kind: 'taken'; readonly choice: number }
  /** How often a group in turn was come to, as far as it makes a difference: from `from` on over again. */
  | { readonly kind: 'turns'; readonly group: number; readonly from: number }
  | { readonly kind: 'place' }
  /** Of a choice that an edit may yet have asked for. */
  | { readonly kind: 'spare' }
)

export interface Given {
  readonly when: WhenGiven
  readonly options: readonly number[]
}

/** A range too wide for 32 bits holds numbers by the order in which they turn up; one of which only classes are told apart by these. */
export class WideValues {
  private readonly indices = new Map<number, number>()
  readonly values: number[] = []

  /** `isFixed`: all values are known, and rise. */
  constructor(readonly isFixed = false) {}

  /** Where classes begin, of which each of the values is one. */
  starts: readonly number[] | undefined

  /** The number of a value, or of the class that it is in. */
  classOf(value: number): number {
    return this.starts === undefined ? this.indexOf(value) : lastAtMost(this.starts, this.starts.length, value)
  }

  indexOf(value: number): number {
    const known = this.indices.get(value)
    if (known !== undefined) return known
    const index = this.values.length
    this.values.push(value)
    this.indices.set(value, index)
    return index
  }
}

/** The slots of a story; an edit may give spare ones to choices. */
export interface Slots {
  readonly all: Slot[]
  /** The indices of those that are spare. */
  readonly spare: number[]
  /** By entry, quest, beat and choice index: the slot's index, or -1. */
  readonly ofEntry: Int32Array
  readonly ofQuest: Int32Array
  readonly ofVisits: Int32Array
  readonly ofTaken: Int32Array
  /** By index of the group in turn: the slot's index, or -1 where no turn differs from another. */
  readonly ofTurns: Int32Array
  readonly place: number
  /** By variable, as a summary numbers them: the slot's index, or -1. */
  readonly ofVariable: Int32Array
  /** Beat index of every place; the place slot holds 1 + an index into this, or 0. */
  readonly places: readonly number[]
  /** By beat: what the place slot holds once it is the current place, or 0 where it is none. */
  readonly placeOf: Int32Array
}

/** Whether a choice was taken. */
export const TAKEN = { kind: 'taken', min: 0, max: 1, initial: 0 } as const
export const UNUSED = { kind: 'spare', min: 0, max: 0, initial: 0 } as const

const INT32_MIN = -(2 ** 31)
const INT32_MAX = 2 ** 31 - 1
/** A wide slot gets this many values before the search gives up. */
const WIDE_VALUES_MAX = 2 ** 31 - 2

/** So many choices can come to be taken once, or asked for, before all slots are allotted anew. */
const SPARE = 16

/** A slot before it is numbered. */
type Draft = Slot extends infer S ? (S extends Slot ? Omit<S, 'index'> : never) : never

/** `demands`: what is told apart besides what the story tells apart itself. */
export function allotSlots(story: LinkedStory, demands?: Demands): Slots {
  const all: Slot[] = []
  const add = (slot: Draft): number => {
    all.push({ ...slot, index: all.length })
    return all.length - 1
  }
  const domains = wordDomains(story, demands?.words)
  const ofEntry = Int32Array.from(story.entries, (entry) => {
    const base = { kind: 'entry' as const, entry: entry.index, words: undefined, wide: undefined, given: undefined }
    if (entry.given !== undefined) return add(givenSlot(story, entry, domains.get(entry.index), demands))
    switch (entry.kind) {
      case 'flag':
        return add({ ...base, min: 0, max: 1, initial: entry.initial === true ? 1 : 0 })
      case 'switch':
        return add({
          ...base,
          min: 0,
          max: Math.max(0, entry.positions.length - 1),
          initial: Math.max(0, entry.positions.indexOf(String(entry.initial))),
        })
      case 'text': {
        const words = domains.get(entry.index)!
        return add({
          ...base,
          words,
          min: 0,
          max: words.values.length - 1,
          initial: words.values.indexOf(String(entry.initial)),
        })
      }
      case 'counter':
      case 'item': {
        if (entry.min >= INT32_MIN && entry.max <= INT32_MAX && entry.max - entry.min < INT32_MAX) {
          return add({ ...base, min: entry.min, max: entry.max, initial: Number(entry.initial) })
        }
        const wide = new WideValues()
        return add({ ...base, wide, min: 0, max: WIDE_VALUES_MAX, initial: wide.indexOf(Number(entry.initial)) })
      }
    }
  })
  const ofQuest = Int32Array.from(story.quests, (quest) =>
    add({ kind: 'quest', quest: quest.index, min: 0, max: quest.stages.length - 1, initial: 0 }),
  )
  const asked = askedCounts(story, demands)
  const ofVisits = new Int32Array(story.beats.length).fill(-1)
  for (const { index: beat } of story.inOrder) {
    const max = asked.visits.get(beat)
    if (max !== undefined) ofVisits[beat] = add({ kind: 'visits', beat, min: 0, max, initial: 0 })
  }
  const ofTaken = new Int32Array(story.choices.length).fill(-1)
  for (const { index: choice } of choicesOf(story))
    if (asked.taken.has(choice)) ofTaken[choice] = add({ ...TAKEN, choice })
  const ofTurns = Int32Array.from(story.turnGroups, (group) => {
    const own = countOf(group)
    const also = demands?.turns?.get(group.index) ?? own
    const from = Math.max(own.from, also.from)
    const last = from + leastCommon(own.over, also.over) - 1
    return last === 0 ? -1 : add({ kind: 'turns', group: group.index, from, min: 0, max: last, initial: 0 })
  })
  const places = story.inOrder.filter((beat) => beat.place).map((beat) => beat.index)
  const placeOf = new Int32Array(story.beats.length)
  places.forEach((beat, index) => {
    placeOf[beat] = index + 1
  })
  const place = add({ kind: 'place', min: 0, max: places.length, initial: 0 })
  const spare = Array.from({ length: SPARE }, () => add(UNUSED))
  const ofThing = new Int32Array(variablesOf(story).count)
  let at = 0
  for (const part of [ofEntry, ofQuest, ofVisits, ofTaken, ofTurns]) {
    ofThing.set(part, at)
    at += part.length
  }
  ofThing[at] = place
  return { all, spare, ofEntry, ofQuest, ofVisits, ofTaken, ofTurns, ofVariable: ofThing, place, places, placeOf }
}

/** More values than this are not gone through one by one. */
const OPTIONS_MAX = 2 ** 21

function leastCommon(a: number, b: number): number {
  let [x, y] = [a, b]
  while (y !== 0) [x, y] = [y, x % y]
  return (a / x) * b
}

function givenSlot(
  story: LinkedStory,
  entry: LinkedEntry,
  words: WordDomain | undefined,
  demands: Demands | undefined,
): Draft {
  const base = { kind: 'entry' as const, entry: entry.index, words, wide: undefined }
  const given = (
    initial: number,
    options: readonly number[],
  ): Pick<Draft & { kind: 'entry' }, 'given' | 'initial'> => ({
    initial,
    given: { when: entry.given!, options: [initial, ...options.filter((one) => one !== initial)] },
  })
  switch (entry.kind) {
    case 'flag':
      return { ...base, min: 0, max: 1, ...given(entry.initial === true ? 1 : 0, [0, 1]) }
    case 'switch': {
      const max = Math.max(0, entry.positions.length - 1)
      const initial = Math.max(0, entry.positions.indexOf(String(entry.initial)))
      return { ...base, min: 0, max, ...given(initial, [...Array(max + 1).keys()]) }
    }
    case 'text': {
      const { values, typable } = words!
      // any word as it would be kept, or none
      return {
        ...base,
        min: 0,
        max: values.length - 1,
        ...given(values.indexOf(String(entry.initial)), [0, ...typable]),
      }
    }
    case 'counter':
    case 'item': {
      const classes = givenClasses(story, entry, demands?.cuts)
      const wide = new WideValues(true)
      const size = Math.min(OPTIONS_MAX, entry.max - entry.min + 1)
      for (const value of classes ?? Array.from({ length: size }, (_, at) => entry.min + at)) wide.indexOf(value)
      if (classes !== undefined) wide.starts = classStarts(story, entry, demands?.cuts?.get(entry.index))
      const initial = wide.indexOf(Number(entry.initial))
      return { ...base, wide, min: 0, max: wide.values.length - 1, ...given(initial, [...wide.values.keys()]) }
    }
  }
}

/** Whether the game may set a number to more values than can be gone through, which are told apart: then not all is decided. */
export function isCutShort(story: LinkedStory, { all }: Slots): boolean {
  return all.some(
    (slot) =>
      slot.kind === 'entry' &&
      slot.given !== undefined &&
      slot.wide !== undefined &&
      slot.wide.values.length >= OPTIONS_MAX &&
      story.entries[slot.entry]!.max - story.entries[slot.entry]!.min >= slot.wide.values.length,
  )
}

/** Which visit counts are read, and up to which count they differ for the story; which choices `taken` asks for, and which are taken once. */
export function askedCounts(
  story: LinkedStory,
  demands: Demands | undefined,
): { visits: Map<number, number>; taken: Set<number> } {
  const visits = new Map<number, number>()
  const taken = new Set<number>()
  const need = (beat: number, most: number) => visits.set(beat, Math.max(visits.get(beat) ?? 1, most))
  const variables = variablesOf(story)
  for (const beat of story.inOrder) {
    const summary = summaryOf(story, variables, beat)
    for (const read of summary.visitsRead) need(read.beat, read.most)
    for (const choice of summary.takenRead) taken.add(choice)
  }
  for (const promise of story.promises)
    for (const expr of promiseParts(promise)) askedFor(story, expr, need, (choice) => taken.add(choice))
  demands?.visits?.forEach((most, beat) => need(beat, most))
  demands?.taken?.forEach((choice) => taken.add(choice))
  return { visits, taken }
}
