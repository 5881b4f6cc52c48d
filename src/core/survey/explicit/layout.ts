import type { Liveness } from '../liveness'
import type { Slots } from '../slots'

/**
 * How a resting state is packed into 32-bit words: where it rests, then just the slots that are
 * live there, each with as many bits as its values need. A location is a beat's index, or that
 * plus the number of beats for "stuck at this beat after the word was typed".
 */
export class Layout {
  /** Words of one state. */
  readonly words: number
  /** Bits of the largest state. */
  readonly bits: number
  private readonly locationBits: number
  /** By location: slot, word, shift, bits, smallest value; five numbers a live slot. Built when first met. */
  private readonly plans: (Int32Array | undefined)[]
  private readonly slotBits: Uint8Array

  constructor(
    private readonly beats: number,
    private readonly slots: Slots,
    private readonly liveness: Liveness,
  ) {
    this.locationBits = Math.max(1, bitsFor(2 * beats))
    this.slotBits = Uint8Array.from(slots.all, (slot) => bitsFor(slot.max - slot.min + 1))
    this.plans = new Array<Int32Array | undefined>(2 * beats)
    let words = 1
    let bits = this.locationBits
    for (let beat = 0; beat < beats; beat += 1) {
      const size = this.measure(beat)
      words = Math.max(words, size.words)
      bits = Math.max(bits, size.bits)
    }
    // Every stuck location looks the same.
    if (beats > 0) words = Math.max(words, this.measure(beats).words)
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

  /** Fills the working vector's live slots from a packed state, and returns its location. */
  unpack(from: Uint32Array, offset: number, values: Int32Array): number {
    const location = this.locationOf(from[offset]!)
    const plan = this.plans[location] ?? this.plan(location)
    for (let at = 0; at < plan.length; at += 5) {
      values[plan[at]!] = ((from[offset + plan[at + 1]!]! >>> plan[at + 2]!) & plan[at + 3]!) + plan[at + 4]!
    }
    return location
  }

  locationOf(firstWord: number): number {
    return firstWord & (2 ** this.locationBits - 1)
  }

  /** The slots that a state resting at `location` holds. */
  liveAt(location: number): number[] {
    const live: number[] = []
    const { words, atRest, stuck } = this.liveness
    const row = location < this.beats ? location * words : -1
    for (let word = 0; word < words; word += 1) {
      let set = row === -1 ? stuck[word]! : atRest[row + word]!
      while (set !== 0) {
        const bit = 31 - Math.clz32(set & -set)
        live.push(word * 32 + bit)
        set &= set - 1
      }
    }
    return live
  }

  private measure(location: number): { words: number; bits: number } {
    const { words, atRest, stuck } = this.liveness
    const row = location < this.beats ? location * words : -1
    let bits = this.locationBits
    let room = 32 - bits
    let used = 1
    for (let word = 0; word < words; word += 1) {
      let set = row === -1 ? stuck[word]! : atRest[row + word]!
      while (set !== 0) {
        const size = this.slotBits[word * 32 + 31 - Math.clz32(set & -set)]!
        set &= set - 1
        if (size > room) {
          used += 1
          room = 32
        }
        room -= size
        bits += size
      }
    }
    return { words: used, bits }
  }

  private plan(location: number): Int32Array {
    const live = this.liveAt(location)
    const plan = new Int32Array(live.length * 5)
    let word = 0
    let shift = this.locationBits
    live.forEach((slot, index) => {
      const size = this.slotBits[slot]!
      if (shift + size > 32) {
        word += 1
        shift = 0
      }
      plan.set([slot, word, shift, size === 32 ? -1 : 2 ** size - 1, this.slots.all[slot]!.min], index * 5)
      shift += size
    })
    this.plans[location] = plan
    return plan
  }
}

function bitsFor(values: number): number {
  return values <= 1 ? 0 : 32 - Math.clz32(values - 1)
}
