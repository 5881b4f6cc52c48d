import { enlarged } from './lists'
import { IN_PAGE, PAGE_BITS, PAGE_WORDS, pagesFor, type Pages } from './pages'
import { ones, StateBits } from './state-bits'

/** Stands in the list of successors for a decision into an endless run; as a first cell, for no state. */
export const NO_STATE = 0xffffffff

export interface StateSetLimits {
  /** A space of up to this many bits is held whole, */
  readonly whole: number
  /** and one of which a state in so many has been seen. */
  readonly dense: number
}

const STATE_SET_LIMITS: StateSetLimits = { whole: 2 ** 20, dense: 64 }

/**
 * The states seen so far, as bits: packed states that differ only in the lowest bits of their first
 * cell are neighbours, and share a page. Where packed states are of one cell and there are not many,
 * or many of them have been seen, bits are held for all of them: a state's id is then its packed cell.
 * Otherwise there is a page where something is in it, found by what its states have in common in an
 * table, and a state's id is where its bit stands. A state's number, which is its place in the order of discovery,
 * is looked up by how many bits stand before its own (rank of a bit vector; Jacobson: Space-efficient
 * static trees and graphs, 1989).
 */
export class StateSet {
  count = 0
  /** Names in the order of discovery. */
  private ids = new Uint32Array(1024)
  private bits: Int32Array
  /** Undefined where bits are held for the whole space. */
  private pages: Pages | undefined
  /** Once it has so many, they are. */
  private readonly dense: number
  /** How many bits stand before every other cell. */
  private ranks = new Int32Array()
  /** By rank. */
  private numbers = new Uint32Array()

  /** For states of so many cells, and if it is one, with numbers below `space`. */
  constructor(
    readonly cells: number,
    private readonly space: number,
    { whole, dense }: StateSetLimits = STATE_SET_LIMITS,
  ) {
    this.dense = cells > 1 ? Infinity : space <= whole ? 0 : space / dense
    this.pages = this.dense === 0 ? undefined : pagesFor(cells, space)
    this.bits = new Int32Array(this.dense === 0 ? wordsFor(space) : 1024)
  }

  get bytes(): number {
    return (
      this.ids.byteLength +
      this.bits.byteLength +
      this.ranks.byteLength +
      this.numbers.byteLength +
      (this.pages?.bytes ?? 0)
    )
  }

  /**
   * Adds up to BATCH states, packed one after another in `keys`, and writes to `ids` from `at` what
   * each is called in lists of successors. One whose first cell is NO_STATE is none, and called so.
   */
  addAll(keys: Uint32Array, size: number, ids: Uint32Array, at: number): void {
    if (this.count + size > this.ids.length) this.ids = enlarged(this.ids, this.count + size)
    if (this.pages === undefined) this.addToWhole(keys, size, ids, at)
    else this.addToPages(this.pages, keys, size, ids, at)
  }

  // Neither branches on what is there: that would be guessed wrong as often as a state is new.

  private addToWhole(keys: Uint32Array, size: number, ids: Uint32Array, at: number): void {
    const { ids: known, bits } = this
    let { count } = this
    for (let index = 0; index < size; index += 1) {
      const key = keys[index]! | 0
      ids[at + index] = key
      if (key < 0) continue
      const before = bits[key >> 5]!
      bits[key >> 5] = before | (1 << (key & 31))
      known[count] = key
      count += (~before >>> (key & 31)) & 1
    }
    this.count = count
  }

  private addToPages(pages: Pages, keys: Uint32Array, size: number, ids: Uint32Array, at: number): void {
    const { cells } = this
    const found = pages.find(keys, size)
    const needed = pages.count * PAGE_WORDS
    if (needed > this.bits.length) this.bits = enlarged(this.bits, needed)
    const { ids: known, bits } = this
    let { count } = this
    for (let index = 0; index < size; index += 1) {
      const low = keys[index * cells]! | 0
      if (low === -1) {
        ids[at + index] = NO_STATE
        continue
      }
      const id = (found[index]! << PAGE_BITS) | (low & IN_PAGE)
      ids[at + index] = id
      const before = bits[id >>> 5]!
      bits[id >>> 5] = before | (1 << (low & 31))
      known[count] = id
      count += (~before >>> (low & 31)) & 1
    }
    this.count = count
  }

  /** Whether so much of the space has been seen that it had better be held whole. */
  get isCrowded(): boolean {
    return this.pages !== undefined && this.count >= this.dense
  }

  /** Holds the whole space from now on; gives what each state is called then, by what it was called before. */
  holdWhole(): (id: number) => number {
    const pages = this.pages!
    const renamed = (id: number) => (id === NO_STATE ? id : pages.wordOf(id, 0))
    this.pages = undefined
    this.bits = new Int32Array(wordsFor(this.space))
    for (let number = 0; number < this.count; number += 1) {
      const id = renamed(this.ids[number]!)
      this.ids[number] = id
      this.bits[id >>> 5]! |= 1 << (id & 31)
    }
    return renamed
  }

  /** The number of a packed state below `space`; NO_STATE where it is not in the set. */
  numberOf(key: Uint32Array): number {
    const { pages, bits } = this
    const id = pages === undefined ? key[0]! : pages.bitOf(key)
    return id === -1 || ((bits[id >>> 5]! >>> (id & 31)) & 1) === 0 ? NO_STATE : this.orderOf(id)
  }

  /** One cell of the packed state that is called so. */
  cellOf(id: number, cell: number): number {
    return this.pages === undefined ? id : this.pages.wordOf(id, cell)
  }

  /** Writes packed states one after another, from one number up to, not including, another. */
  copy(from: number, to: number, into: Uint32Array, at: number): void {
    const { ids, cells, pages } = this
    for (let number = from, next = at; number < to; number += 1, next += cells) {
      const id = ids[number]!
      if (pages === undefined) into[next] = id
      else for (let cell = 0; cell < cells; cell += 1) into[next + cell] = pages.wordOf(id, cell)
    }
  }

  /** The first cell of a packed state. */
  firstCell(number: number): number {
    return this.cellOf(this.ids[number]!, 0)
  }

  idOf(number: number): number {
    return this.ids[number]!
  }

  /** The number of the state that is called so; NO_STATE for none. */
  orderOf(id: number): number {
    if (id === NO_STATE) return NO_STATE
    if (this.numbers.length !== this.count) this.rank()
    return this.numbers[this.rankOf(id)]!
  }

  /** No states of it, as bits. */
  noneOf(): StateBits {
    return new StateBits(this.bits.length)
  }

  /** How many states that are in the set have a smaller id. */
  private rankOf(id: number): number {
    const { bits, ranks } = this
    const cell = id >>> 5
    const before = ranks[cell >> 1]! + ones(bits[cell]! & ((1 << (id & 31)) - 1))
    return (cell & 1) === 0 ? before : before + ones(bits[cell - 1]!)
  }

  private rank(): void {
    // what was made room for is seldom needed any more
    if (this.pages !== undefined) this.bits = this.bits.slice(0, this.pages.count * PAGE_WORDS)
    const { bits, ids, count } = this
    const used = bits.length
    const ranks = new Int32Array((used + 1) >> 1)
    let sum = 0
    for (let cell = 0; cell < used; cell += 1) {
      if ((cell & 1) === 0) ranks[cell >> 1] = sum
      if (bits[cell] !== 0) sum += ones(bits[cell]!)
    }
    this.ranks = ranks
    const numbers = new Uint32Array(count)
    for (let number = 0; number < count; number += 1) numbers[this.rankOf(ids[number]!)] = number
    this.numbers = numbers
  }
}

function wordsFor(space: number): number {
  return Math.floor(space / 32) + 1
}
