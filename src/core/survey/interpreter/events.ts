import { beatOf } from '../../base/address'
import type { LinkedBeat, LinkedStory } from '../../story/linked'
import type { RouteItem } from '../../story/types'
import type { Chosen } from './givens'
import { countParts, eachPart } from '../summaries/beat-parts'
import { lastAtMost } from '../../base/last-at-most'
import type { PartKind } from '../summaries/part-kinds'
import { OCCURRED, Sightings } from './sightings'

/**
 * What has been seen on some route, each with the transition that showed it first. The search is
 * breadth-first, so the first transition is one of the fewest decisions.
 */

/** What is no part of a beat. */
export type NamedKind = 'ending' | 'stage' | 'overrun' | 'move' | 'unset' | 'dead-end' | 'endless'
export type EventKind = PartKind | NamedKind

/** Where an event was seen: after decision `pick` of state `state`, or in that state itself. */
export interface Witness {
  /** -1: on the run from the start, before any decision. */
  readonly state: number
  /** Which of the state's open decisions, from 0; -1: in the state itself; below: by which change of given values, from −2 downwards. */
  readonly pick: number
  /** What the game gave for it to be seen. */
  readonly given?: readonly Chosen[]
  /** Where it was seen elsewhere: after how many decisions, and a route of that many. */
  readonly told?: { readonly decisions: number; readonly route: () => RouteItem[] }
}

export interface SurveyEvent {
  readonly kind: EventKind
  readonly key: readonly string[]
}

export interface NamedEvent extends SurveyEvent {
  readonly kind: NamedKind
}

/**
 * What is seen has a number. The parts of a beat are numbered together when something first comes
 * to the beat, one after another in the order of `eachPart`, so that nothing is looked up by name;
 * all else is numbered by name. A condition has the number of the part that it belongs to.
 */
export class EventLog {
  /** 1 once seen; read by compiled code before it calls `hit`. */
  readonly occurred: Uint8Array
  /** For every written condition that was asked: whether it was ever false (1) and ever true (2). */
  readonly asked: Uint8Array
  /** While something is only tried, nothing is marked. */
  quiet = false
  /** The transition that is being followed. */
  state = -1
  pick = -1
  /** What was chosen of what the game gives, where something can be. */
  chosen: (() => readonly Chosen[]) | undefined
  /** While transitions are played again: what each of them shows. */
  private recorded: number[] | undefined
  /** While conditions are asked anew: those that were. */
  private freshlyAsked: number[] | undefined
  private readonly states: Int32Array
  private readonly picks: Int32Array
  private readonly numbers = new Map<NamedKind, Map<string, number>>()
  private readonly named = new Map<number, NamedEvent>()
  private count = 0
  /** What was seen so far; and of the story as it was before the last edit, as long as somebody may ask. */
  private sightings = new Sightings()
  private before: Sightings | undefined
  /** What was given where something was seen, by number. */
  private readonly given = new Map<number, readonly Chosen[]>()
  /** What was seen by another search, by number. */
  private readonly adopted = new Map<number, NonNullable<Witness['told']>>()
  /** By beat: the number of its first part, or -1. */
  private readonly firsts: Int32Array
  /** By beat, where it has such a number: the number after that of its last part. */
  private readonly ends: Int32Array
  /** By beat, where somebody asked: the numbers of its parts by their addresses. */
  private readonly addresses = new Map<number, ReadonlyMap<string, number>>()
  /** By first number, where somebody asked: what the parts are. */
  private readonly partsTold = new Map<number, readonly SurveyEvent[]>()
  /** First numbers in their order; those that an edit did away with too. */
  private readonly blocks: number[] = []
  /** The beats whose parts begin there. */
  private readonly blockBeats: LinkedBeat[] = []

  constructor(
    private story: LinkedStory,
    capacity: number,
  ) {
    this.occurred = new Uint8Array(capacity)
    this.asked = new Uint8Array(capacity)
    this.states = new Int32Array(capacity)
    this.picks = new Int32Array(capacity)
    this.firsts = new Int32Array(story.beats.length).fill(-1)
    this.ends = new Int32Array(story.beats.length)
  }

  /** The number of the first part of a beat, the beat itself. */
  partsOf(beat: number): number {
    const known = this.firsts[beat]!
    if (known !== -1) return known
    const linked = this.story.beats[beat]!
    const first = this.take(countParts(linked))
    this.firsts[beat] = first
    this.ends[beat] = this.count
    this.blocks.push(first)
    this.blockBeats.push(linked)
    return first
  }

  /** Of each part of a beat 1 where it was seen, else 0; undefined where nothing has come to the beat. */
  seenOf(beat: number): Uint8Array | undefined {
    return this.hasReached(beat) ? this.occurred.subarray(this.firsts[beat], this.ends[beat]) : undefined
  }

  /** Whether everything in a beat was seen. */
  hasSeenAll(beat: number): boolean {
    const { occurred } = this
    const end = this.ends[beat]!
    let at = this.firsts[beat]!
    if (at === -1) return false
    while (at < end && occurred[at] === 1) at += 1
    return at === end
  }

  /** Whether something has come to a beat, sent elsewhere or not. */
  hasReached(beat: number): boolean {
    const first = this.firsts[beat]!
    return first !== -1 && this.occurred[first] === 1
  }

  /** The number of the part at an address, which there is. */
  part(address: string): number {
    return this.addressesIn(this.beatOf(address)!).get(address)!
  }

  /** The same; -1 where nothing has come to its beat, or there is none. */
  private knownPart(address: string): number {
    const beat = this.beatOf(address)
    return beat === undefined || this.firsts[beat] === -1 ? -1 : (this.addressesIn(beat).get(address) ?? -1)
  }

  private beatOf(address: string): number | undefined {
    const beat = beatOf(address)
    return beat && this.story.beatOf.get(beat)
  }

  private addressesIn(beat: number): ReadonlyMap<string, number> {
    const known = this.addresses.get(beat)
    if (known !== undefined) return known
    const numbers = new Map<string, number>()
    let number = this.partsOf(beat)
    eachPart(this.story.beats[beat]!, (_, address) => numbers.set(address, number++))
    this.addresses.set(beat, numbers)
    return numbers
  }

  /** The number of what is no part of a beat; the same for the same kind and key. */
  number(kind: NamedKind, ...key: string[]): number {
    const name = nameOf(key)
    let ofKind = this.numbers.get(kind)
    if (ofKind === undefined) {
      ofKind = new Map()
      this.numbers.set(kind, ofKind)
    }
    const known = ofKind.get(name)
    if (known !== undefined) return known
    const number = this.take(1)
    this.named.set(number, { kind, key })
    ofKind.set(name, number)
    return number
  }

  private take(count: number): number {
    const first = this.count
    this.count += count
    if (this.count > this.occurred.length) throw new Error('internal: more events than counted')
    return first
  }

  /** What a number stands for. */
  at(number: number): SurveyEvent {
    const known = this.named.get(number)
    if (known !== undefined) return known
    const block = this.blockOf(number)
    const first = this.blocks[block]!
    let parts = this.partsTold.get(first)
    if (parts === undefined) {
      const list: SurveyEvent[] = []
      eachPart(this.blockBeats[block]!, (kind, address) => list.push({ kind, key: [address] }))
      this.partsTold.set(first, (parts = list))
    }
    return parts[number - first]!
  }

  /** Which block a part is in. */
  private blockOf(number: number): number {
    return lastAtMost(this.blocks, this.blocks.length, number)
  }

  /** The story after an edit: the parts of changed beats get new numbers. */
  renew(story: LinkedStory, changed: readonly number[]): void {
    this.story = story
    for (const beat of changed) {
      this.firsts[beat] = -1
      this.addresses.delete(beat)
    }
    this.before = this.sightings
    this.forget()
  }

  /** What was seen of the story as it was before the last edit, the numbers being those of now; told once. */
  takeSeenBefore(): Sightings | undefined {
    const { before } = this
    this.before = undefined
    return before
  }

  /** As if nothing had been seen; numbers stay. */
  private forget(): void {
    this.sightings = new Sightings()
    this.occurred.fill(0)
    this.asked.fill(0)
    this.adopted.clear()
    this.given.clear()
    this.state = -1
    this.pick = -1
    this.quiet = false
  }

  /** A condition was asked and is false (1) or true (2). */
  ask(number: number, outcome: number): void {
    const before = this.asked[number]!
    if ((before & outcome) !== 0) return
    this.asked[number] = before | outcome
    if (this.freshlyAsked === undefined) this.sightings.push(number, outcome, this.state, this.pick)
    else if (before === 0) this.freshlyAsked.push(number)
  }

  record(number: number): void {
    if (this.quiet || this.occurred[number] === 1) return
    this.occurred[number] = 1
    if (this.recorded !== undefined) {
      this.recorded.push(number)
      return
    }
    this.states[number] = this.state
    this.picks[number] = this.pick
    this.sightings.push(number, OCCURRED, this.state, this.pick)
    if (this.chosen !== undefined) this.given.set(number, this.chosen())
  }

  /** Takes over what another search saw, if it was not seen here. */
  adopt(number: number, told: NonNullable<Witness['told']>): void {
    if (this.occurred[number] === 1) return
    this.occurred[number] = 1
    this.adopted.set(number, told)
  }

  /** How the condition of a part turned out for another search. */
  adoptOutcomes(address: string, outcomes: number): void {
    this.asked[this.part(address)]! |= outcomes
  }

  /** An event occurs (OCCURRED), or the condition of its part turns out so. */
  see(number: number, how: number): void {
    if (how === OCCURRED) this.record(number)
    else this.ask(number, how)
  }

  /** Whether an event occurred (OCCURRED), or the condition of its part turned out so. */
  wasSeen(number: number, how: number): boolean {
    return how === OCCURRED ? this.occurred[number] === 1 : (this.asked[number]! & how) !== 0
  }

  /** What a number stands for that is no part of a beat; undefined for a part. */
  namedAt(number: number): NamedEvent | undefined {
    return this.named.get(number)
  }

  /** The beat that has a part; undefined where an edit did away with it. */
  beatOfPart(number: number): number | undefined {
    const block = this.blockOf(number)
    const beat = this.blockBeats[block]!.index
    return this.firsts[beat] === this.blocks[block] ? beat : undefined
  }

  /** Lets transitions be played again: `shows` gives all that one shows, whatever was seen before. What is shown stands in `shown` meanwhile. */
  recording(play: (shows: (again: () => void) => readonly number[], shown: readonly number[]) => void): void {
    const seen = this.occurred.slice()
    const list: number[] = []
    this.occurred.fill(0)
    this.recorded = list
    try {
      play((again) => {
        this.forgetShown()
        again()
        return list
      }, list)
    } finally {
      this.recorded = undefined
      this.occurred.set(seen)
    }
  }

  /** Plays something as if no condition had been asked; what was known of them is as it was afterwards. */
  askingAnew<T>(play: () => T): T {
    const before = this.asked.slice()
    this.asked.fill(0)
    this.freshlyAsked = []
    try {
      return play()
    } finally {
      this.freshlyAsked = undefined
      this.asked.set(before)
    }
  }

  /** What is asked from here on is asked as if nothing had been yet. */
  forgetAsked(): void {
    const fresh = this.freshlyAsked!
    for (const number of fresh) this.asked[number] = 0
    fresh.length = 0
  }

  /** The conditions that were asked since then, with how they turned out. */
  askedSince(): (readonly [condition: number, outcomes: number])[] {
    return this.freshlyAsked!.map((number) => [number, this.asked[number]!] as const)
  }

  /** What is shown from here on is recorded as if nothing had been shown yet. */
  forgetShown(): void {
    for (const number of this.recorded ?? []) this.occurred[number] = 0
    if (this.recorded !== undefined) this.recorded.length = 0
  }

  /** Plays something that is only tried: nothing is marked. */
  quietly<T>(play: () => T): T {
    const { quiet } = this
    this.quiet = true
    try {
      return play()
    } finally {
      this.quiet = quiet
    }
  }

  witness(number: number): Witness {
    const told = this.adopted.get(number)
    if (told !== undefined) return { state: -1, pick: -1, told }
    const given = this.given.get(number)
    const witness = { state: this.states[number]!, pick: this.picks[number]! }
    return given === undefined ? witness : { ...witness, given }
  }

  /** Where something was first seen, or undefined when it was not. */
  witnessOf(kind: NamedKind, ...key: string[]): Witness | undefined {
    const number = this.numbers.get(kind)?.get(nameOf(key)) ?? -1
    return number === -1 || this.occurred[number] === 0 ? undefined : this.witness(number)
  }

  /** Where a part of a beat was first come to, or undefined when it was not. */
  witnessOfPart(address: string): Witness | undefined {
    const number = this.knownPart(address)
    return number === -1 || this.occurred[number] === 0 ? undefined : this.witness(number)
  }

  /** All seen events of a kind that are no parts, in order of their numbers. */
  occurrencesOf(kind: NamedKind): { readonly key: readonly string[]; readonly witness: Witness }[] {
    const found: { key: readonly string[]; witness: Witness }[] = []
    for (const [number, event] of this.named)
      if (event.kind === kind && this.occurred[number] === 1)
        found.push({ key: event.key, witness: this.witness(number) })
    return found
  }

  /** How the condition of the part at an address turned out: false (1), true (2), both (3), never asked (0). */
  outcomesOf(address: string): number {
    const number = this.knownPart(address)
    return number === -1 ? 0 : this.asked[number]!
  }

  /** The addresses of conditions that were asked and never false. */
  neverFalse(): string[] {
    const found: string[] = []
    for (let number = 0; number < this.count; number += 1)
      if (this.asked[number] === NEVER_FALSE) found.push(this.at(number).key[0]!)
    return found
  }
}

const NEVER_FALSE = 2

function nameOf(key: readonly string[]): string {
  return key.length === 1 ? key[0]! : key.join('\n')
}
