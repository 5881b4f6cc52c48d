/** Stands in the list of successors for a decision into an endless run. */
export const NO_STATE = 0xffffffff

/** Of 4 slots at most 3 are used: beyond that linear probing costs more than the memory saves. */
const LOAD = 3 / 4
/** States that are added at once. */
export const BATCH = 1024

/**
 * The set of states seen so far: the states themselves one after another in order of discovery
 * (so a state's number is its place in the queue), and an open-addressing table of their numbers
 * (linear probing; Knuth: The Art of Computer Programming 3, 6.4). Once the table would be as
 * large as the space of packed states, a state stands at its own place in it and needs no search.
 */
export class StateTable {
  /** Packed states, `words` a state. */
  states: Uint32Array
  count = 0
  /**
   * 1 + a state's number, or 0 where nothing stands. A number needs no more bits than the mask has; the
   * bits above are the hash's own, and save nearly every look at a state that is another.
   */
  private table: Uint32Array
  private mask: number
  /** The table has a slot of its own for every packed state. */
  private direct = false
  private readonly hashes = new Uint32Array(BATCH)
  /** Keeps the reads of the first passes from being left out. */
  private warmed = 0

  constructor(
    private readonly words: number,
    /** Bits of the largest packed state. */
    private readonly bits: number,
  ) {
    this.states = new Uint32Array(1024 * words)
    this.table = new Uint32Array(4096)
    this.mask = 4095
  }

  get bytes(): number {
    return this.states.byteLength + this.table.byteLength
  }

  /**
   * Adds up to BATCH states, packed one after another in `keys`, and writes their numbers to
   * `numbers` from `at`; a new state gets the next number. One whose first word is `none` under `noneMask` is
   * none and gets NO_STATE. Looking all of them up in passes lets the waits for memory overlap.
   */
  addAll(keys: Uint32Array, size: number, numbers: Uint32Array, at: number, none: number, noneMask: number): void {
    while (this.count + size > this.table.length * LOAD && !this.direct) this.grow()
    const needed = (this.count + size) * this.words
    if (needed > this.states.length) this.states = enlarged(this.states, needed)
    const { words, table, mask, hashes, states, direct } = this
    let warmed = 0
    for (let index = 0; index < size; index += 1) {
      const mixed = direct ? keys[index]! : hash(keys, index * words, words)
      hashes[index] = mixed
      warmed ^= table[mixed & mask]!
    }
    if (!direct) {
      for (let index = 0; index < size; index += 1) {
        const found = table[hashes[index]! & mask]!
        if (((found ^ hashes[index]!) & ~mask) === 0 && found !== 0) warmed ^= states[((found & mask) - 1) * words]!
      }
    }
    this.warmed = warmed
    for (let index = 0; index < size; index += 1) {
      const key = index * words
      const first = keys[key]!
      if ((first & noneMask) === none) {
        numbers[at + index] = NO_STATE
        continue
      }
      const mixed = hashes[index]!
      let slot = mixed & mask
      let found = table[slot]!
      if (!direct) {
        while (found !== 0) {
          if (((found ^ mixed) & ~mask) === 0) {
            const base = ((found & mask) - 1) * words
            if (states[base] === first && (words === 1 || this.holds(base, keys, key))) break
          }
          slot = (slot + 1) & mask
          found = table[slot]!
        }
      }
      if (found === 0) {
        const base = this.count * words
        for (let word = 0; word < words; word += 1) states[base + word] = keys[key + word]!
        this.count += 1
        found = direct ? this.count : (mixed & ~mask) | this.count
        table[slot] = found
      }
      numbers[at + index] = (direct ? found : found & mask) - 1
    }
  }

  /** Whether all words after the first are the same too. */
  private holds(base: number, keys: Uint32Array, key: number): boolean {
    const { states, words } = this
    for (let word = 1; word < words; word += 1) if (states[base + word] !== keys[key + word]) return false
    return true
  }

  private grow(): void {
    const size = this.table.length * (this.table.length < 2 ** 20 ? 4 : 2)
    this.direct = this.words === 1 && this.bits < 32 && size >= 2 ** this.bits
    const table = new Uint32Array(this.direct ? 2 ** this.bits : size)
    const mask = table.length - 1
    const { states, words, direct } = this
    for (let number = 0; number < this.count; number += 1) {
      if (direct) {
        table[states[number]!] = number + 1
        continue
      }
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

/** A list of numbers. */
export class NumberList {
  items: Uint32Array
  length = 0

  constructor(capacity = 1024) {
    this.items = new Uint32Array(capacity)
  }

  push(value: number): void {
    this.reserve(1)
    this.items[this.length] = value
    this.length += 1
  }

  /** Makes room for so many more. */
  reserve(more: number): void {
    if (this.length + more > this.items.length) this.items = enlarged(this.items, this.length + more)
  }
}

/** Twice as large while small, then half as large again: what is not used yet costs memory too. */
function enlarged(list: Uint32Array, needed: number): Uint32Array<ArrayBuffer> {
  const grown = new Uint32Array(Math.max(needed, Math.ceil(list.length * (list.length < 2 ** 18 ? 2 : 1.5))))
  grown.set(list)
  return grown
}
