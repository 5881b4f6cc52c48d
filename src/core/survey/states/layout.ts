import type { LinkedStory } from '../../story/linked'
import { onlyMember } from '../analysis/bits'
import type { Liveness } from '../analysis/liveness'
import type { FlowGraph } from '../analysis/flow-graph'
import type { Slots } from '../analysis/slots'

/** Where a packed state holds a slot: as a digit of one of its cells. */
export interface Field {
  readonly slot: number
  readonly cell: number
  /** What one more of the slot adds to the cell. */
  readonly stride: number
  /** How many values the slot can have. */
  readonly size: number
  readonly min: number
}

/** What a cell can hold: as many values as a whole number that stays positive in 32 bits. */
const WORD = 2 ** 31
/** Entries of the table that tells where to look for a location; about one a location. */
const GUIDE_MAX = 2 ** 16

/** Numbers of one field in a plan. */
const FIELD = 5

/**
 * How a resting state is packed into cells: a number in a mixed radix (Knuth: The Art of Computer
 * Programming 2, 4.1), whose digits are just the slots that are live where it rests and can have
 * changed by then. Each location has a range of the first cell to itself, as large as the product
 * of what its digits can be; so where all ranges fit one cell, a state is a small number, and a
 * set of states a row of bits. A location is a beat's number, or that plus how many numbers there are for
 * "stuck at this beat after the cell was typed"; their ranges follow the document. A slot that a state does not hold has its initial
 * value there, or what it has makes no difference; the current place is also known without being
 * held where it can be only one.
 */
export class Layout {
  /** Words of one state. */
  readonly cells: number
  /** Bits that tell all packed states apart. */
  readonly bits: number
  /** Slots of states of more than one word, at most. */
  readonly fields: number
  /** The first cells of states are below this. */
  readonly space: number
  private readonly beats: number
  /** By location: the smallest first cell, and how many there are from it on. */
  private readonly bases: Int32Array
  private readonly rooms: Int32Array
  /** The locations in the order of their ranges: first cells of the one at `at` lie from `begins[at]` up to, not including, `begins[at + 1]`. */
  private readonly ranged: Int32Array
  private readonly begins: Int32Array
  /** By the first cell's highest bits: a place in `ranged` whose range is not after them. */
  private readonly guide: Int32Array
  private readonly guideShift: number
  /** A location's digits fill this much of the first cell; what is left goes on in the next. */
  private readonly firstWord: number
  /**
   * Slot, cell, stride, size, smallest value: FIELD numbers a packed slot, those of location l from
   * `starts[l]` to `ends[l]`. Written when a location is first met, so that those met one after
   * another lie together; `starts` is -1 before.
   */
  private plans = new Int32Array(1024)
  private planned = 0
  /** By location: how many states there can be. */
  private readonly spaces: Float64Array
  private readonly starts: Int32Array
  private readonly ends: Int32Array
  /** By slot. */
  private readonly initial: Int32Array
  /** By beat: the value of the place slot where it can be only one, else -1. */
  private readonly onlyPlace: Int32Array

  constructor(
    story: LinkedStory,
    private readonly slots: Slots,
    roads: FlowGraph,
    private readonly liveness: Liveness,
    /** The layout before an edit that left the slots, and what asks for a word, as they were: what is the same is taken from there. */
    before?: Layout,
  ) {
    this.beats = story.beats.length
    this.initial = Int32Array.from(slots.all, (slot) => slot.initial)
    this.onlyPlace = Int32Array.from({ length: this.beats }, (_, beat) => onlyMember(roads.places, beat))
    const locations = 2 * this.beats
    this.starts = new Int32Array(locations).fill(-1)
    this.ends = new Int32Array(locations)
    const differs = before?.differsIn(this)
    // none where nobody rests: under a number that no beat has
    const spaces = new Float64Array(locations)
    const spaceOf = (location: number) =>
      differs?.[location % this.beats] === 0 && before!.spaces[location] !== 0
        ? before!.spaces[location]!
        : this.digitsAt(location).reduce((product, slot) => product * this.sizeOf(slot), 1)
    const { inOrder } = story
    this.ranged = new Int32Array(2 * inOrder.length)
    let total = 0
    for (const isStuck of [false, true])
      for (let at = 0; at < inOrder.length; at += 1) {
        const { index, ask } = inOrder[at]!
        const location = isStuck ? this.beats + index : index
        this.ranged[isStuck ? inOrder.length + at : at] = location
        if (!isStuck || ask !== undefined) spaces[location] = spaceOf(location)
        total += spaces[location]!
      }
    this.spaces = spaces
    this.bits = Math.max(1, Math.ceil(Math.log2(total)))
    this.firstWord = total < WORD ? WORD : Math.floor((WORD - 1) / locations)
    if (differs !== undefined && before!.firstWord === this.firstWord) this.takePlans(before!, differs)
    this.bases = new Int32Array(locations)
    this.rooms = new Int32Array(locations)
    this.begins = new Int32Array(this.ranged.length + 1)
    let cells = 1
    let fields = 0
    let base = 0
    for (let at = 0; at < this.ranged.length; at += 1) {
      const location = this.ranged[at]!
      this.begins[at] = base
      this.bases[location] = base
      if (spaces[location]! <= this.firstWord) {
        this.rooms[location] = spaces[location]!
        base += spaces[location]!
        continue
      }
      const plan = this.place(this.digitsAt(location))
      cells = Math.max(cells, plan[plan.length - FIELD + 1]! + 1)
      fields = Math.max(fields, plan.length / FIELD)
      this.rooms[location] = firstWordOf(plan)
      base += this.rooms[location]
    }
    this.begins[this.ranged.length] = base
    this.cells = cells
    this.fields = fields
    this.space = base
    this.guideShift = Math.max(0, bitsFor(base) - bitsFor(Math.min(GUIDE_MAX, 4 * this.ranged.length)))
    this.guide = guideTo(this.begins, 2 ** this.guideShift)
  }

  /** Writes the state at `location` from the working vector into `into`, from `offset`. */
  pack(location: number, values: Int32Array, into: Uint32Array, offset: number): void {
    const start = this.planOf(location)
    const { plans } = this
    const end = this.ends[location]!
    into[offset] = this.bases[location]!
    for (let cell = 1; cell < this.cells; cell += 1) into[offset + cell] = 0
    for (let at = start; at < end; at += FIELD) {
      into[offset + plans[at + 1]!]! += (values[plans[at]!]! - plans[at + 4]!) * plans[at + 2]!
    }
  }

  /** Puts what a packed state holds into the working vector, and returns its location. */
  unpack(from: Uint32Array, offset: number, values: Int32Array): number {
    const location = this.locationOf(from[offset]!)
    const start = this.planOf(location)
    const { plans } = this
    const end = this.ends[location]!
    let rest = from[offset]! - this.bases[location]!
    let cell = 0
    for (let at = start; at < end; at += FIELD) {
      if (plans[at + 1] !== cell) {
        cell = plans[at + 1]!
        rest = from[offset + cell]!
      }
      const size = plans[at + 3]!
      const more = (rest / size) | 0
      values[plans[at]!] = rest - more * size + plans[at + 4]!
      rest = more
    }
    const place = this.onlyPlace[location < this.beats ? location : location - this.beats]!
    if (place !== -1) values[this.slots.place] = place
    return location
  }

  /**
   * Reads some slots alone: puts them into the working vector for the packed state at an offset, and
   * gives its location.
   */
  reader(slots: readonly number[]): (from: Uint32Array, offset: number, values: Int32Array) => number {
    const plans: (Int32Array | undefined)[] = []
    const planFor = (location: number): Int32Array => {
      const fields = new Map(this.fieldsOf(location).map((field) => [field.slot, field]))
      return Int32Array.from(
        slots.flatMap((slot) => {
          const field = fields.get(slot)
          // one digit of one value stands for what is known
          return field === undefined
            ? [slot, 0, 1, 1, this.knownAt(location, slot)]
            : [slot, field.cell, field.stride, field.size, field.min]
        }),
      )
    }
    return (from, offset, values) => {
      const first = from[offset]!
      const location = this.locationOf(first)
      const plan = (plans[location] ??= planFor(location))
      const digits = first - this.bases[location]!
      for (let at = 0; at < plan.length; at += FIELD) {
        const cell = plan[at + 1] === 0 ? digits : from[offset + plan[at + 1]!]!
        values[plan[at]!] = (((cell / plan[at + 2]!) | 0) % plan[at + 3]!) + plan[at + 4]!
      }
      return location
    }
  }

  /** Gives what states resting at `location` hold its initial value again. */
  putBack(location: number, values: Int32Array): void {
    const { plans, initial } = this
    const end = this.ends[location]!
    for (let at = this.planOf(location); at < end; at += FIELD) values[plans[at]!] = initial[plans[at]!]!
    values[this.slots.place] = 0
  }

  /** What a state resting at `location` holds, of some slots or all, and where; digits of one cell in the order of their strides. */
  fieldsOf(location: number, isWanted: (slot: number) => boolean = () => true): Field[] {
    const fields: Field[] = []
    const start = this.planOf(location)
    const { plans } = this
    const end = this.ends[location]!
    for (let at = start; at < end; at += FIELD) {
      const slot = plans[at]!
      if (!isWanted(slot)) continue
      fields.push({ slot, cell: plans[at + 1]!, stride: plans[at + 2]!, size: plans[at + 3]!, min: plans[at + 4]! })
    }
    return fields
  }

  /** The smallest first cell of a state resting at `location`. */
  baseOf(location: number): number {
    return this.bases[location]!
  }

  /** How many first cells states resting at `location` can have. */
  roomOf(location: number): number {
    return this.rooms[location]!
  }

  /** By beat: 1 where states that rest there hold something else than in another layout of as many beats and the same slots; undefined where they are packed otherwise altogether. */
  differences(other: Layout): Uint8Array | undefined {
    if (this === other) return new Uint8Array(this.beats)
    return this.cells === other.cells && this.firstWord === other.firstWord ? this.differsIn(other) : undefined
  }

  /** By beat: 1 where they hold something else, however it is packed. */
  private differsIn(other: Layout): Uint8Array {
    const [one, two] = [this.liveness, other.liveness]
    return Uint8Array.from({ length: this.beats }, (_, beat) =>
      one.atRest.isSameAt(beat, two.atRest) &&
      one.stuck.isSameAt(beat, two.stuck) &&
      this.onlyPlace[beat] === other.onlyPlace[beat]
        ? 0
        : 1,
    )
  }

  /** Takes over plans where states hold the same; those of the other places are written anew. */
  private takePlans(before: Layout, differs: Uint8Array): void {
    let used = 0
    for (let location = 0; location < this.starts.length; location += 1) {
      const start = before.starts[location]!
      if (start === -1 || differs[location % this.beats] === 1) continue
      this.starts[location] = start
      this.ends[location] = before.ends[location]!
      used += this.ends[location]! - start
    }
    // what edits have left behind is let go from time to time
    if (before.planned > 2 * used + this.plans.length) this.starts.fill(-1)
    else {
      this.plans = before.plans.slice()
      this.planned = before.planned
    }
  }

  /** The value of a slot that a state resting at `location` does not hold. */
  knownAt(location: number, slot: number): number {
    const place = this.onlyPlace[location % this.beats]!
    return slot === this.slots.place && place !== -1 ? place : this.slots.all[slot]!.initial
  }

  /** The location of a state, by its first cell. */
  locationOf(firstWord: number): number {
    const { begins, ranged, guide } = this
    const at = firstWord >>> this.guideShift
    let low = guide[at]!
    if (firstWord < begins[low + 1]!) return ranged[low]!
    // the last range that begins here or before
    let high = guide[at + 1]!
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (begins[middle]! <= firstWord) low = middle
      else high = middle - 1
    }
    return ranged[low]!
  }

  /** The slots that a state resting at `location` holds; those whose values fill bits without a rest come first, as they are read quickest. */
  private digitsAt(location: number): number[] {
    const { atRest, stuck } = this.liveness
    const beat = location % this.beats
    const known = this.onlyPlace[beat] === -1 ? -1 : this.slots.place
    const slots = (location < this.beats ? atRest : stuck)
      .slots(beat)
      .filter((slot) => slot !== known && this.sizeOf(slot) > 1)
    if (slots.length < 2) return slots
    return [
      ...slots.filter((slot) => isPower(this.sizeOf(slot))),
      ...slots.filter((slot) => !isPower(this.sizeOf(slot))),
    ]
  }

  private sizeOf(slot: number): number {
    const { min, max } = this.slots.all[slot]!
    return max - min + 1
  }

  /** Gives each slot its cell and stride. */
  private place(digits: readonly number[]): Int32Array {
    const plan = new Int32Array(digits.length * FIELD)
    let cell = 0
    let stride = 1
    digits.forEach((slot, index) => {
      const size = this.sizeOf(slot)
      if (stride * size > (cell === 0 ? this.firstWord : WORD)) {
        cell += 1
        stride = 1
      }
      plan.set([slot, cell, stride, size, this.slots.all[slot]!.min], index * FIELD)
      stride *= size
    })
    return plan
  }

  /** Where the plan of a location begins. */
  private planOf(location: number): number {
    const start = this.starts[location]!
    return start === -1 ? this.plan(location) : start
  }

  private plan(location: number): number {
    const plan = this.place(this.digitsAt(location))
    const start = this.planned
    this.planned += plan.length
    if (this.planned > this.plans.length) {
      const grown = new Int32Array(Math.max(this.planned, 2 * this.plans.length))
      grown.set(this.plans)
      this.plans = grown
    }
    this.plans.set(plan, start)
    this.starts[location] = start
    this.ends[location] = this.planned
    return start
  }
}

/** By multiples of a width: the last range that begins there or before. */
function guideTo(begins: Int32Array, width: number): Int32Array {
  const ranges = begins.length - 1
  const guide = new Int32Array(Math.floor(begins[ranges]! / width) + 2)
  let place = 0
  for (let at = 0; at < guide.length; at += 1) {
    const from = at * width
    while (place + 1 < ranges && begins[place + 1]! <= from) place += 1
    guide[at] = place
  }
  return guide
}

/** How much of the first cell the digits of a plan take. */
function firstWordOf(plan: Int32Array): number {
  let space = 1
  for (let at = 0; at < plan.length; at += FIELD) if (plan[at + 1] === 0) space = plan[at + 2]! * plan[at + 3]!
  return space
}

function isPower(size: number): boolean {
  return (size & (size - 1)) === 0
}

function bitsFor(values: number): number {
  return values <= 1 ? 0 : 32 - Math.clz32(values - 1)
}
