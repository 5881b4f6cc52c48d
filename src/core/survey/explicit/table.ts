import { enlarged } from './lists'

/** Stands in the list of successors for a decision into an endless run; as a first word, for no state. */
export const NO_STATE = 0xffffffff

/** States that are added at once. */
export const BATCH = 1024

/** States seen so far. */
export interface StateSet {
  /** Packed states one after another in order of discovery: a state's number is its place in the queue. */
  readonly states: Uint32Array
  readonly count: number
  readonly bytes: number
  /**
   * Adds up to BATCH states, packed one after another in `keys`, and writes to `names` from `at` what
   * each is called in lists of successors. One whose first word is NO_STATE is none, and called so.
   */
  addAll(keys: Uint32Array, size: number, names: Uint32Array, at: number): void
  nameOf(number: number): number
  /** The number of the state that is called so; NO_STATE for none. */
  numberOf(name: number): number
  /** No states of it, as bits. */
  noneOf(): StateBits
}

/** Some states of a set, a bit a state, told by what they are called; neighbours share a word, as they do in the set. Good as long as nothing is added to the set. */
export class StateBits {
  private readonly words: Int32Array
  private readonly inPage: number

  /** `pages`: of every page of names, where its words begin; left out where names are numbers. */
  constructor(
    words: number,
    private readonly pages?: Int32Array,
    private readonly pageBits = 5,
  ) {
    this.words = new Int32Array(words)
    this.inPage = 2 ** (pageBits - 5) - 1
  }

  /** Whether the state of that name, which is in the set, is among them. */
  has(name: number): boolean {
    return ((this.words[this.wordOf(name)]! >>> (name & 31)) & 1) === 1
  }

  add(name: number): void {
    this.words[this.wordOf(name)]! |= 1 << (name & 31)
  }

  private wordOf(name: number): number {
    const { pages } = this
    return pages === undefined ? name >>> 5 : pages[name >>> this.pageBits]! + ((name >>> 5) & this.inPage)
  }
}

export function stateSet(words: number, space: number): StateSet {
  return words === 1 ? new BitSet(space) : new StateTable(words)
}

/** Bits of the smallest page, as a power of 2. */
const PAGE_BITS_LEAST = 9
/** Small pages waste little where few states lie in a wide space, but there are no more than 2 to this power. */
const PAGES_BITS_MOST = 20
/** A space of up to this many bits is held whole, and one of which a state in so many has been seen. */
const WHOLE = 2 ** 20
const DENSE = 64

/**
 * A set of small numbers as bits, so that neighbours share a word; in pages that are there once
 * something is in them, until there is so much that the whole is held. It knows nothing of the
 * order of discovery, so a state's name is its own packed word, and its number is looked up by how
 * many bits stand before it (rank of a bit vector; Jacobson: Space-efficient static trees and
 * graphs, 1989).
 */
class BitSet implements StateSet {
  states = new Uint32Array(1024)
  count = 0
  /** Of every page: where its words begin, or 0 for none. The first page of `bits` belongs to nobody. Undefined where the whole is held. */
  private pages: Int32Array | undefined
  private bits: Int32Array
  /** Words in use. */
  private used: number
  /** How many bits stand before every other word. */
  private ranks = new Int32Array()
  /** By rank. */
  private numbers = new Uint32Array()
  /** Bits of one page, as a power of 2, and the words that hold them. */
  private readonly pageBits: number
  private readonly pageWords: number
  /** Once it has so many, the whole is held. */
  private readonly dense: number

  constructor(space: number) {
    this.pageBits = Math.max(PAGE_BITS_LEAST, Math.ceil(Math.log2(space)) - PAGES_BITS_MOST)
    this.pageWords = 2 ** (this.pageBits - 5)
    const pageCount = Math.floor(space / 2 ** this.pageBits) + 1
    this.dense = space <= WHOLE ? 0 : space / DENSE
    this.used = this.dense === 0 ? pageCount * this.pageWords : this.pageWords
    this.pages = this.dense === 0 ? undefined : new Int32Array(pageCount)
    this.bits = new Int32Array(Math.max(this.used, this.dense === 0 ? 0 : WHOLE / 32))
  }

  get bytes(): number {
    return this.states.byteLength + (this.pages?.byteLength ?? 0) + this.bits.byteLength + this.ranks.byteLength + this.numbers.byteLength
  }

  addAll(keys: Uint32Array, size: number, names: Uint32Array, at: number): void {
    if (this.count + size > this.states.length) this.states = enlarged(this.states, this.count + size)
    if (this.pages !== undefined && this.count >= this.dense) this.holdWhole(this.pages)
    if (this.pages === undefined) this.addToWhole(keys, size, names, at)
    else this.addToPages(this.pages, keys, size, names, at)
  }

  // Neither branches on what is there: that would be guessed wrong as often as a state is new.

  private addToWhole(keys: Uint32Array, size: number, names: Uint32Array, at: number): void {
    const { states, bits } = this
    let { count } = this
    for (let index = 0; index < size; index += 1) {
      const key = keys[index]! | 0
      names[at + index] = key
      if (key < 0) continue
      const before = bits[key >> 5]!
      bits[key >> 5] = before | (1 << (key & 31))
      states[count] = key
      count += (~before >>> (key & 31)) & 1
    }
    this.count = count
  }

  private addToPages(pages: Int32Array, keys: Uint32Array, size: number, names: Uint32Array, at: number): void {
    const { states, pageBits } = this
    const inPage = this.pageWords - 1
    let { bits, count } = this
    for (let index = 0; index < size; index += 1) {
      const key = keys[index]! | 0
      names[at + index] = key
      if (key < 0) continue
      let base = pages[key >> pageBits]!
      if (base === 0) {
        base = this.open(pages, key >> pageBits)
        bits = this.bits
      }
      const word = base + ((key >> 5) & inPage)
      const before = bits[word]!
      bits[word] = before | (1 << (key & 31))
      states[count] = key
      count += (~before >>> (key & 31)) & 1
    }
    this.count = count
  }

  nameOf(number: number): number {
    return this.states[number]!
  }

  numberOf(name: number): number {
    const key = name | 0
    if (key < 0) return NO_STATE
    if (this.numbers.length !== this.count) this.rank()
    return this.numbers[this.rankOf(key)]!
  }

  noneOf(): StateBits {
    return new StateBits(this.used, this.pages, this.pageBits)
  }

  /** How many states that are in the set have a smaller packed word. */
  private rankOf(key: number): number {
    const { pages, bits, ranks } = this
    const word = pages === undefined ? key >> 5 : pages[key >> this.pageBits]! + ((key >> 5) & (this.pageWords - 1))
    const before = ranks[word >> 1]! + ones(bits[word]! & ((1 << (key & 31)) - 1))
    return (word & 1) === 0 ? before : before + ones(bits[word - 1]!)
  }

  private rank(): void {
    const { bits, states, count, used } = this
    const ranks = new Int32Array((used + 1) >> 1)
    let sum = 0
    for (let word = 0; word < used; word += 1) {
      if ((word & 1) === 0) ranks[word >> 1] = sum
      if (bits[word] !== 0) sum += ones(bits[word]!)
    }
    this.ranks = ranks
    const numbers = new Uint32Array(count)
    for (let state = 0; state < count; state += 1) numbers[this.rankOf(states[state]!)] = state
    this.numbers = numbers
  }

  /** Makes a page and gives where its words begin. */
  private open(pages: Int32Array, page: number): number {
    const base = this.used
    this.used += this.pageWords
    if (this.used > this.bits.length) this.bits = enlarged(this.bits, this.used)
    pages[page] = base
    return base
  }

  private holdWhole(pages: Int32Array): void {
    const { pageWords, bits } = this
    const whole = new Int32Array(pages.length * pageWords)
    pages.forEach((base, page) => {
      if (base !== 0) whole.set(bits.subarray(base, base + pageWords), page * pageWords)
    })
    this.bits = whole
    this.used = whole.length
    this.pages = undefined
  }
}

/** How many bits of a word are set (Warren: Hacker's Delight, 5-1). */
function ones(word: number): number {
  let sum = word - ((word >>> 1) & 0x55555555)
  sum = (sum & 0x33333333) + ((sum >>> 2) & 0x33333333)
  return Math.imul((sum + (sum >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}

/** Of 4 slots at most 3 are used: beyond that linear probing costs more than the memory saves. */
const LOAD = 3 / 4

/**
 * The set of states of several words: an open-addressing table of their numbers (linear probing;
 * Knuth: The Art of Computer Programming 3, 6.4). A state's name is its number at once.
 */
class StateTable implements StateSet {
  states: Uint32Array
  count = 0
  /**
   * 1 + a state's number, or 0 where nothing stands. A number needs no more bits than the mask has; the
   * bits above are the hash's own, and save nearly every look at a state that is another.
   */
  private table: Uint32Array
  private mask: number
  private readonly hashes = new Uint32Array(BATCH)
  /** Keeps the reads of the first passes from being left out. */
  private warmed = 0

  constructor(private readonly words: number) {
    this.states = new Uint32Array(1024 * words)
    this.table = new Uint32Array(4096)
    this.mask = 4095
  }

  get bytes(): number {
    return this.states.byteLength + this.table.byteLength
  }

  /** Looking all of them up in passes lets the waits for memory overlap. */
  addAll(keys: Uint32Array, size: number, names: Uint32Array, at: number): void {
    while (this.count + size > this.table.length * LOAD) this.grow()
    const needed = (this.count + size) * this.words
    if (needed > this.states.length) this.states = enlarged(this.states, needed)
    const { words, table, mask, hashes, states } = this
    let warmed = 0
    for (let index = 0; index < size; index += 1) {
      const mixed = hash(keys, index * words, words)
      hashes[index] = mixed
      warmed ^= table[mixed & mask]!
    }
    for (let index = 0; index < size; index += 1) {
      const found = table[hashes[index]! & mask]!
      if (((found ^ hashes[index]!) & ~mask) === 0 && found !== 0) warmed ^= states[((found & mask) - 1) * words]!
    }
    this.warmed = warmed
    for (let index = 0; index < size; index += 1) {
      const key = index * words
      if (keys[key] === NO_STATE) {
        names[at + index] = NO_STATE
        continue
      }
      const mixed = hashes[index]!
      let slot = mixed & mask
      let found = table[slot]!
      while (found !== 0) {
        if (((found ^ mixed) & ~mask) === 0 && this.holds(((found & mask) - 1) * words, keys, key)) break
        slot = (slot + 1) & mask
        found = table[slot]!
      }
      if (found === 0) {
        const base = this.count * words
        for (let word = 0; word < words; word += 1) states[base + word] = keys[key + word]!
        this.count += 1
        found = (mixed & ~mask) | this.count
        table[slot] = found
      }
      names[at + index] = (found & mask) - 1
    }
  }

  nameOf(number: number): number {
    return number
  }

  numberOf(name: number): number {
    return name
  }

  noneOf(): StateBits {
    return new StateBits(Math.ceil(this.count / 32))
  }

  private holds(base: number, keys: Uint32Array, key: number): boolean {
    const { states, words } = this
    for (let word = 0; word < words; word += 1) if (states[base + word] !== keys[key + word]) return false
    return true
  }

  private grow(): void {
    const table = new Uint32Array(this.table.length * (this.table.length < 2 ** 20 ? 4 : 2))
    const mask = table.length - 1
    const { states, words } = this
    for (let number = 0; number < this.count; number += 1) {
      const mixed = hash(states, number * words, words)
      let slot = mixed & mask
      while (table[slot] !== 0) slot = (slot + 1) & mask
      table[slot] = (mixed & ~mask) | (number + 1)
    }
    this.table = table
    this.mask = mask
  }
}

const multiply = Math.imul

/** Each word is mixed in with the finaliser of MurmurHash3 (Appleby, public domain). */
function hash(keys: Uint32Array, offset: number, words: number): number {
  let mixed = 0
  for (let word = 0; word < words; word += 1) {
    mixed = multiply(mixed ^ keys[offset + word]!, 0x85ebca6b)
    mixed = multiply(mixed ^ (mixed >>> 13), 0xc2b2ae35)
    mixed ^= mixed >>> 16
  }
  return mixed >>> 0
}
