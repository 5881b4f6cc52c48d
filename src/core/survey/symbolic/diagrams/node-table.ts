import type { Slices } from '../../../base/slices'
import { enlarged } from '../../states/lists'

/** The empty set, and the set of the one assignment to no variables at all. */
export const EMPTY = 0
export const UNIT = 1

/** There is too much for sets to be put together. */
export class TooMuch extends Error {}

/** Thrown where others are to get their turn: one for all times, as to note where it comes from takes longer than a short turn. */
const TURN_OVER = new Error('others are to get their turn')

/** What some work gives; undefined where it comes to be too much. */
export function* unlessTooMuch<T>(work: Slices<T>): Slices<T | undefined> {
  try {
    return yield* work
  } catch (error) {
    if (error instanceof TooMuch) return undefined
    throw error
  }
}

/** The same of work that is done at once. */
export function ifNotTooMuch<T>(work: () => T): T | undefined {
  try {
    return work()
  } catch (error) {
    if (error instanceof TooMuch) return undefined
    throw error
  }
}

/** Sets beyond which it is. */
const NODES_MAX = 8_000_000
/** Sets that are made between two looks whether there is time and room left, less one. */
const LOOK = 0xffff

export interface DiagramLimits {
  /** How many sets there may be. */
  readonly nodes?: number | undefined
  /** How much may be worked out for distances as edge-valued diagrams before they are layers instead. */
  readonly edges?: number | undefined
  /** How many parts of sets are looked at before others get their turn. */
  readonly turn?: number | undefined
  /** In how many ways what is asked for or added to has to be at least to be looked at in more than one at once. */
  readonly many?: number | undefined
  /** Says that time or memory are used up. */
  readonly isOver?: (() => boolean) | undefined
}

/** Entries of the memory of what was worked out: a later one takes the place of an earlier. It grows with the sets up to the second number. */
const MEMO_LEAST = 2 ** 12
const MEMO_MOST = 2 ** 21

/** Parts of sets that are looked at before others get their turn, ten or twenty milliseconds. */
const TURN = 25_000
/** Turns of what is worked out that are as long as one another. */
const TURNS_ALIKE = 16

/** Nodes of multi-valued decision diagrams, each held once, and what was worked out of them. A set is the number of its node. */
export class NodeTable {
  /** By set: where the sets for each value of its first variable begin, and how many they are. */
  protected starts = new Int32Array(1024)
  protected sizes = new Int32Array(1024)
  protected parts = new Int32Array(4096)
  private used = 0
  private count = 2
  /** Open addressing: a set's number, or 0. */
  private table = new Int32Array(4096)
  /** Four numbers an entry: what was done, to what, and what came of it. */
  private memo = new Int32Array(4 * MEMO_LEAST)
  /** Values that are being worked out. */
  protected stack = new Int32Array(1024)
  protected height = 0
  /** How often something was worked out. */
  work = 0
  /** Parts that were looked at for it since others had their turn. */
  private looked = 0
  /** How much may be looked at until what is worked out is broken off. */
  private turn = Infinity
  private nodesMax: number
  private readonly turnLength: number
  protected readonly isOver: () => boolean

  constructor({ nodes = NODES_MAX, turn = TURN, isOver = () => false }: DiagramLimits = {}) {
    this.nodesMax = nodes
    this.turnLength = turn
    this.isOver = isOver
  }

  /** Puts together what has to be told and needs little, a route for example, however many sets there are already. */
  withRoom<T>(work: () => T): T {
    const { nodesMax } = this
    this.nodesMax = Infinity
    try {
      return work()
    } finally {
      this.nodesMax = nodesMax
    }
  }

  /**
   * Works something out, and lets others work meanwhile: it is broken off and begun again, and what was worked out until then is
   * remembered. As what is remembered can be lost, turns come to be longer where there are many. In `work` nothing else is done with the table.
   */
  *inTurns<T>(work: () => T): Slices<T> {
    const { height } = this
    for (let turns = 0; ; turns += 1) {
      this.turn = this.turnLength * 2 ** Math.floor(turns / TURNS_ALIKE)
      try {
        return work()
      } catch (error) {
        if (error !== TURN_OVER) throw error
        this.height = height
      } finally {
        this.turn = Infinity
      }
      this.looked = 0
      yield
    }
  }

  /** Whether so much has been looked at that others are to get their turn; asked where nothing is left half done. */
  protected isTurnOver(): boolean {
    if (this.looked < this.turnLength) return false
    this.looked = 0
    return true
  }

  /** How many sets are held, parts of others among them. */
  get nodes(): number {
    return this.count
  }

  get bytes(): number {
    return (
      4 *
      (this.starts.length +
        this.sizes.length +
        this.parts.length +
        this.table.length +
        this.stack.length +
        this.memo.length)
    )
  }

  /** The set for one value of the first variable. */
  part(set: number, value: number): number {
    return this.parts[this.starts[set]! + value]!
  }

  /** How many values the first variable of a set has; 0 for none. */
  sizeOf(set: number): number {
    return this.sizes[set]!
  }

  protected push(size: number): number {
    const base = this.height
    this.height += size
    this.looked += size
    if (this.height > this.stack.length) this.stack = enlarged(this.stack, this.height)
    return base
  }

  /** The set whose parts are the last `size` on the stack, which are taken off. */
  protected pop(base: number, size: number): number {
    this.height = base
    const { stack, parts, starts, sizes } = this
    let mixed = size
    let isEmpty = true
    for (let at = base; at < base + size; at += 1) {
      if (stack[at] !== EMPTY) isEmpty = false
      mixed = Math.imul(mixed ^ stack[at]!, 0x85ebca6b)
      mixed ^= mixed >>> 15
    }
    if (isEmpty) return EMPTY
    if (2 * this.count > this.table.length) this.growTable()
    const { table } = this
    const mask = table.length - 1
    let place = mixed & mask
    for (let set = table[place]!; set !== 0; set = table[place]!) {
      if (sizes[set] === size) {
        const start = starts[set]!
        let at = 0
        while (at < size && parts[start + at] === stack[base + at]) at += 1
        if (at === size) return set
      }
      place = (place + 1) & mask
    }
    if (this.count >= this.nodesMax || ((this.count & LOOK) === 0 && this.isOver())) throw new TooMuch()
    const set = this.count
    this.count += 1
    if (set >= this.starts.length) {
      this.starts = enlarged(this.starts, set + 1)
      this.sizes = enlarged(this.sizes, set + 1)
    }
    if (this.used + size > this.parts.length) this.parts = enlarged(this.parts, this.used + size)
    this.starts[set] = this.used
    this.sizes[set] = size
    this.parts.set(stack.subarray(base, base + size), this.used)
    this.used += size
    table[place] = set
    return set
  }

  private growTable(): void {
    const table = new Int32Array(4 * this.table.length)
    const mask = table.length - 1
    for (let set = 2; set < this.count; set += 1) {
      let mixed = this.sizes[set]!
      for (let at = this.starts[set]!; at < this.starts[set]! + this.sizes[set]!; at += 1) {
        mixed = Math.imul(mixed ^ this.parts[at]!, 0x85ebca6b)
        mixed ^= mixed >>> 15
      }
      let place = mixed & mask
      while (table[place] !== 0) place = (place + 1) & mask
      table[place] = set
    }
    this.table = table
  }

  /** How much is remembered at most. */
  protected get entries(): number {
    return this.memo.length / 4
  }

  protected memoPlace(op: number, a: number, b: number): number {
    let mixed = Math.imul(op, 0x9e3779b1) ^ Math.imul(a, 0x85ebca6b) ^ Math.imul(b, 0xc2b2ae35)
    mixed ^= mixed >>> 15
    mixed = Math.imul(mixed, 0x2c1b3c6d)
    return ((mixed ^ (mixed >>> 13)) << 2) & (this.memo.length - 1)
  }

  protected known(op: number, a: number, b: number): number {
    const { memo } = this
    const place = this.memoPlace(op, a, b)
    return memo[place] === op && memo[place + 1] === a && memo[place + 2] === b ? memo[place + 3]! : -1
  }

  protected remember(op: number, a: number, b: number, value: number): number {
    this.store(op, a, b, value)
    this.giveWay()
    return value
  }

  /** Ends what is worked out in turns where its turn is over; asked where what was worked out is remembered as a whole. */
  protected giveWay(): void {
    if (this.looked > this.turn) throw TURN_OVER
  }

  protected store(op: number, a: number, b: number, value: number): void {
    this.work += 1
    if (4 * this.count > this.memo.length && this.memo.length < 4 * MEMO_MOST)
      this.memo = new Int32Array(4 * this.memo.length)
    const { memo } = this
    const place = this.memoPlace(op, a, b)
    memo[place] = op
    memo[place + 1] = a
    memo[place + 2] = b
    memo[place + 3] = value
  }
}
