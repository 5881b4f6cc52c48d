import type { LinkedStory } from '../../story/linked'
import { exclude, has, join, members } from '../bits'
import type { Flow } from '../flow'
import type { Liveness } from '../liveness'
import type { Slots } from '../slots'
import { Touched } from './touched'

/** Where a packed state holds a slot. */
export interface Field {
  readonly slot: number
  readonly word: number
  readonly shift: number
  readonly mask: number
  readonly min: number
}

/**
 * How a resting state is packed into 32-bit words: where it rests, then just the slots that are
 * live there and can have changed by then, each with as many bits as its values need. A location
 * is a beat's index, or that plus the number of beats for "stuck at this beat after the word was
 * typed". What is live but can't have changed has its initial value, and is put back on loading
 * where the next decisions may look at it.
 */
export class Layout {
  /** Words of one state. */
  readonly words: number
  /** Bits of the largest state. */
  readonly bits: number
  /** Stands for no resting place: an endless run. */
  readonly nowhere: number
  private readonly beats: number
  private readonly locationBits: number
  readonly locationMask: number
  /** By location: slot, word, shift, mask, smallest value; five numbers a packed slot. Built when first met. */
  private readonly plans: (Int32Array | undefined)[]
  /** By location: slot and value of what is put back on loading. */
  private readonly constants: (Int32Array | undefined)[]
  private readonly slotBits: Uint8Array
  private readonly touched: Touched
  private readonly setWords: number

  constructor(
    story: LinkedStory,
    private readonly slots: Slots,
    private readonly flow: Flow,
    private readonly liveness: Liveness,
    /** Off only in tests: everything is then packed, changed or not. */
    private readonly all: boolean,
  ) {
    this.beats = story.beats.length
    this.nowhere = 2 * this.beats
    this.setWords = liveness.words
    this.touched = new Touched(story, slots, flow, liveness.words)
    this.locationBits = Math.max(1, bitsFor(2 * this.beats + 1))
    this.locationMask = 2 ** this.locationBits - 1
    this.slotBits = Uint8Array.from(slots.all, (slot) => bitsFor(slot.max - slot.min + 1))
    this.plans = new Array<Int32Array | undefined>(2 * this.beats)
    this.constants = new Array<Int32Array | undefined>(2 * this.beats)
    let words = 1
    let bits = this.locationBits
    for (let location = 0; location < 2 * this.beats; location += 1) {
      if (location >= this.beats && story.beats[location - this.beats]!.ask === undefined) continue
      const size = this.measure(this.packedAt(location))
      words = Math.max(words, size.words)
      bits = Math.max(bits, size.bits)
    }
    this.words = words
    this.bits = bits
  }

  /** Writes the state at `location` from the working vector into `into`, from `offset`. */
  pack(location: number, values: Int32Array, into: Uint32Array, offset: number): void {
    const plan = this.plans[location] ?? this.plan(location)
    into[offset] = location
    for (let word = 1; word < this.words; word += 1) into[offset + word] = 0
    for (let at = 0; at < plan.length; at += 5) {
      into[offset + plan[at + 1]!]! |= (values[plan[at]!]! - plan[at + 4]!) << plan[at + 2]!
    }
  }

  /** Fills the working vector from a packed state, as far as the decisions there can look, and returns its location. */
  unpack(from: Uint32Array, offset: number, values: Int32Array): number {
    const location = from[offset]! & this.locationMask
    const plan = this.plans[location] ?? this.plan(location)
    for (let at = 0; at < plan.length; at += 5) {
      values[plan[at]!] = ((from[offset + plan[at + 1]!]! >>> plan[at + 2]!) & plan[at + 3]!) + plan[at + 4]!
    }
    const constants = this.constants[location]!
    for (let at = 0; at < constants.length; at += 2) values[constants[at]!] = constants[at + 1]!
    return location
  }

  /** What a state resting at `location` holds, and where. */
  fieldsOf(location: number): Field[] {
    const plan = this.plans[location] ?? this.plan(location)
    return Array.from({ length: plan.length / 5 }, (_, at) => {
      const [slot, word, shift, mask, min] = plan.subarray(at * 5, at * 5 + 5)
      return { slot: slot!, word: word!, shift: shift!, mask: mask!, min: min! }
    })
  }

  /** What is known of a state resting at `location` without its holding it, by slot. */
  constantsOf(location: number): Map<number, number> {
    if (this.plans[location] === undefined) this.plan(location)
    const list = this.constants[location]!
    const known = new Map<number, number>()
    for (let at = 0; at < list.length; at += 2) known.set(list[at]!, list[at + 1]!)
    return known
  }

  locationOf(firstWord: number): number {
    return firstWord & this.locationMask
  }

  private liveAt(location: number): Uint32Array {
    const { words, atRest, observed } = this.liveness
    const beat = location % this.beats
    return (location < this.beats ? atRest : observed).subarray(beat * words, (beat + 1) * words)
  }

  /** The slots that a state resting at `location` holds. */
  private packedAt(location: number): Uint32Array {
    const set = this.liveAt(location).slice()
    if (this.all) return set
    const changed = location < this.beats ? this.flow.changed.row(location) : this.flow.changedAfterWord.row(location - this.beats)
    for (let word = 0; word < set.length; word += 1) set[word]! &= changed[word]!
    if (this.onlyPlace(location) !== undefined) exclude(set, this.slots.place)
    return set
  }

  /** The value of the place slot where it can be only one. */
  private onlyPlace(location: number): number | undefined {
    const possible = members(this.flow.places.row(location < this.beats ? location : location - this.beats))
    return possible.length === 1 ? possible[0] : undefined
  }

  private measure(packed: Uint32Array): { words: number; bits: number } {
    let bits = this.locationBits
    let room = 32 - bits
    let words = 1
    for (const slot of members(packed)) {
      const size = this.slotBits[slot]!
      if (size > room) {
        words += 1
        room = 32
      }
      room -= size
      bits += size
    }
    return { words, bits }
  }

  private plan(location: number): Int32Array {
    const packed = this.packedAt(location)
    const slots = members(packed)
    const plan = new Int32Array(slots.length * 5)
    let word = 0
    let shift = this.locationBits
    slots.forEach((slot, index) => {
      const size = this.slotBits[slot]!
      if (shift + size > 32) {
        word += 1
        shift = 0
      }
      plan.set([slot, word, shift, size === 32 ? -1 : 2 ** size - 1, this.slots.all[slot]!.min], index * 5)
      shift += size
    })
    this.constants[location] = this.constantsAt(location, packed)
    this.plans[location] = plan
    return plan
  }

  private constantsAt(location: number, packed: Uint32Array): Int32Array {
    const needed = new Uint32Array(this.setWords)
    const beat = location % this.beats
    join(needed, this.liveness.observed.subarray(beat * this.setWords, (beat + 1) * this.setWords))
    if (location < this.beats) for (const next of this.touched.from(location, needed)) join(needed, this.packedAt(next))
    const live = this.liveAt(location)
    const constants: number[] = []
    for (const slot of members(needed)) {
      if (!has(live, slot) || has(packed, slot)) continue
      const place = slot === this.slots.place ? this.onlyPlace(location) : undefined
      constants.push(slot, place ?? this.slots.all[slot]!.initial)
    }
    return Int32Array.from(constants)
  }
}

function bitsFor(values: number): number {
  return values <= 1 ? 0 : 32 - Math.clz32(values - 1)
}
