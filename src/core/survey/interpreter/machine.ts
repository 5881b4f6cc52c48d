import type { LinkedStory } from '../../story/linked'
import type { EventLog } from './events'
import type { Slots } from '../analysis/slots'
import {
  runAll,
  TO_NOWHERE,
  TO_PLACE,
  type BeatProgram,
  type ChoiceProgram,
  type Programs,
  type RuleProgram,
} from './programs'

/** After so many beats the whole working vector is put back. */
const LISTS_MAX = 64

/** `follow` gives a resting location, or this when the story goes round by itself for ever. */
export const ENDLESS = -1

/** In the place of a beat that is watched. */
export const EVERY_BEAT = -2

/**
 * Plays beats on the working vector, as section "Play" of the specification orders them. A resting
 * location is a beat's index, or that plus the number of beats when the story is stuck after a word.
 */
export class Machine {
  private readonly entryValues: Int32Array
  private readonly ownSlots: readonly (Int32Array | undefined)[]
  private readonly beats: number
  private readonly placeSlot: number
  private readonly saved: Int32Array
  private readonly kept: Int32Array
  private scene = -1
  /** Slots written since the working vector was put back, list by list: the first `lists` of them. */
  private readonly written: (readonly number[])[] = []
  private lists = 0
  /** The first beat, in the order of the document, gone to in the repeating part of the last endless run. */
  firstOfCycle = -1
  /** Whether a choice was open when a beat's choices were last come to again. */
  isOffered = false
  /** Says whether some choice of a beat is open, where somebody does that without asking one after another. */
  offers: ((beat: number) => boolean | undefined) | undefined
  /** Hears when the lines of one beat have been shown. */
  private watch: { readonly beat: number; readonly hear: (beat: number) => void } = { beat: -1, hear: () => undefined }

  constructor(
    story: LinkedStory,
    private readonly slots: Slots,
    private readonly values: Int32Array,
    private readonly events: EventLog,
    private readonly programs: Programs,
    /** The same vector, to be looked at as a whole. */
    private readonly whole = values,
  ) {
    this.beats = story.beats.length
    this.placeSlot = slots.place
    this.entryValues = Int32Array.from(slots.all, (slot) => slot.initial)
    const own: number[][] = []
    for (const entry of story.entries)
      if (entry.scene !== -1) (own[entry.scene] ??= []).push(slots.ofEntry[entry.index]!)
    this.ownSlots = Array.from(own, (list) => list && Int32Array.from(list))
    this.saved = new Int32Array(slots.all.length)
    this.kept = new Int32Array(slots.all.length + 2)
  }

  /** Gives every slot that was written its initial value again. */
  putBack(): void {
    const { written, lists, values, entryValues } = this
    this.lists = 0
    if (lists > LISTS_MAX) {
      this.whole.set(entryValues)
      return
    }
    for (let number = 0; number < lists; number += 1) {
      const list = written[number]!
      for (let at = 0; at < list.length; at += 1) values[list[at]!] = entryValues[list[at]!]!
    }
  }

  /** Somebody else has put everything back. */
  wasPutBack(): void {
    this.lists = 0
  }

  /** Has slots put back later that were written from outside. */
  wrote(slots: readonly number[]): void {
    if (this.lists > LISTS_MAX) return
    this.written[this.lists] = slots
    this.lists += 1
  }

  /** Plays something and hears each time that the lines of a beat, or of EVERY_BEAT, have been shown in it. */
  watching<T>(beat: number, hear: (beat: number) => void, play: () => T): T {
    const before = this.watch
    this.watch = { beat, hear }
    try {
      return play()
    } finally {
      this.watch = before
    }
  }

  /** A new playthrough from a beat. */
  begin(start: number): number {
    this.putBack()
    this.values.set(this.entryValues)
    this.scene = -1
    return this.follow(start)
  }

  /** Takes a choice of the beat at which the working vector rests. */
  take(beat: number, choice: ChoiceProgram): number {
    this.scene = this.programs.of(beat).scene
    this.wrote(choice.allWrites)
    if (choice.taken !== -1) this.values[choice.taken] = 1
    runAll(choice.effects)
    if (choice.rules === undefined) return this.follow(choice.to === TO_PLACE ? this.place() : choice.to)
    return this.follow(this.use(this.firstOf(choice.rules)!))
  }

  /** Goes on after a word was typed at the beat. */
  say(beat: number, word: number): number {
    const program = this.programs.of(beat)
    this.scene = program.scene
    this.wrote(program.writes)
    if (program.into !== -1) this.values[program.into] = word
    const rule = this.firstOf(program.onward)
    return rule === undefined ? this.beats + beat : this.follow(this.use(rule))
  }

  /** Goes on from the working vector to a beat, having come from a scene. */
  resume(beat: number, scene: number): number {
    this.scene = scene
    return this.follow(beat)
  }

  /** Takes a playthrough up at a beat: what comes after its lines is come to again. */
  takeUp(beat: number): number {
    const program = this.programs.of(beat)
    return program.ending !== -1 || program.asks ? beat : this.comeAgain(beat, false)
  }

  /** Comes to the choices of a beat again, as something that the game gives has changed; `stuck`: it was stuck after a word. */
  comeAgain(beat: number, stuck: boolean): number {
    const program = this.programs.of(beat)
    this.scene = program.scene
    this.wrote(program.writes)
    this.isOffered = false
    if (!stuck && this.isSomeOpen(beat, program)) {
      this.isOffered = true
      return beat
    }
    const rule = this.firstOf(program.onward)
    return rule === undefined ? (stuck ? this.beats + beat : beat) : this.follow(this.use(rule))
  }

  /** Whether a choice can be taken; a list's rules are tried after its effects, which are then put back. */
  isOpen(choice: ChoiceProgram): boolean {
    const { values } = this
    if (choice.when !== undefined && !choice.when()) return false
    if (choice.once && values[choice.taken] === 1) return false
    if (choice.rules === undefined) {
      return choice.to >= 0 || (choice.to === TO_PLACE && values[this.placeSlot] !== 0)
    }
    const { writes } = choice
    const { saved } = this
    for (let at = 0; at < writes.length; at += 1) saved[at] = values[writes[at]!]!
    if (choice.taken !== -1) values[choice.taken] = 1
    const { quiet } = this.events
    this.events.quiet = true
    try {
      runAll(choice.effects)
    } finally {
      this.events.quiet = quiet
    }
    const rule = this.firstOf(choice.rules)
    for (let at = 0; at < writes.length; at += 1) values[writes[at]!] = saved[at]!
    return rule !== undefined
  }

  private isSomeOpen(beat: number, { choices }: BeatProgram): boolean {
    const told = this.offers?.(beat)
    if (told !== undefined) return told
    for (let at = 0; at < choices.length; at += 1) if (this.isOpen(choices[at]!)) return true
    return false
  }

  private follow(target: number): number {
    let next = target
    let steps = 0
    let power = 8
    for (;;) {
      const location = this.visit(next)
      if (location >= 0) return location
      next = -1 - location
      steps += 1
      if (steps === power) {
        this.keep(next)
        power *= 2
      } else if (power > 8 && this.isKept(next)) {
        this.findCycle(next)
        return ENDLESS
      }
    }
  }

  /** Runs one beat: a resting location, or -1 minus the next beat. */
  private visit(beat: number): number {
    const program = this.programs.of(beat)
    const { values, events } = this
    const { occurred: seen } = events
    if (program.writes.length > 0) this.wrote(program.writes)
    if (program.scene !== this.scene) {
      this.scene = program.scene
      const own = this.ownSlots[program.scene]
      if (own !== undefined) for (let at = 0; at < own.length; at += 1) values[own[at]!] = this.entryValues[own[at]!]!
    }
    if (program.redirects.length > 0) {
      const redirect = this.firstOf(program.redirects)
      if (redirect !== undefined) {
        if (seen[program.event] === 0) events.record(program.event)
        return -1 - this.use(redirect)
      }
    }
    if (program.placeValue !== 0) values[this.placeSlot] = program.placeValue
    if (program.visits !== -1 && values[program.visits]! < program.visitsMax) values[program.visits]! += 1
    if (seen[program.event] === 0) events.record(program.event)
    const { body } = program
    for (let at = 0; at < body.length; at += 1) body[at]!()
    if (beat === this.watch.beat || this.watch.beat === EVERY_BEAT) this.watch.hear(beat)
    if (program.ending !== -1) {
      if (seen[program.endingEvent] === 0) events.record(program.endingEvent)
      return beat
    }
    if (program.asks || program.onward.length === 0) return beat
    // One open choice is enough to rest; the others are asked when the state is expanded.
    if (this.isSomeOpen(beat, program)) return beat
    const rule = this.firstOf(program.onward)
    return rule === undefined ? beat : -1 - this.use(rule)
  }

  private firstOf(rules: readonly RuleProgram[]): RuleProgram | undefined {
    for (let at = 0; at < rules.length; at += 1) {
      const rule = rules[at]!
      if (rule.when !== undefined && !rule.when()) continue
      if (rule.to === TO_NOWHERE || (rule.to === TO_PLACE && this.values[this.placeSlot] === 0)) continue
      return rule
    }
    return undefined
  }

  private use(rule: RuleProgram): number {
    if (this.events.occurred[rule.event] === 0) this.events.record(rule.event)
    runAll(rule.effects)
    return rule.to === TO_PLACE ? this.place() : rule.to
  }

  private place(): number {
    return this.slots.places[this.values[this.placeSlot]! - 1]!
  }

  private keep(next: number): void {
    const { kept, whole } = this
    kept.set(whole)
    kept[whole.length] = next
    kept[whole.length + 1] = this.scene
  }

  private isKept(next: number): boolean {
    const { kept, whole } = this
    if (kept[whole.length] !== next || kept[whole.length + 1] !== this.scene) return false
    for (let at = 0; at < whole.length; at += 1) if (kept[at] !== whole[at]) return false
    return true
  }

  /** Goes round once more, to name the first beat in document order. */
  private findCycle(start: number): void {
    this.keep(start)
    let next = start
    this.firstOfCycle = start
    do {
      next = -1 - this.visit(next)
      if (this.programs.isBefore(next, this.firstOfCycle)) this.firstOfCycle = next
    } while (!this.isKept(next))
  }
}
