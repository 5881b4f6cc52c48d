/**
 * The set of states seen so far: the states themselves one after another in order of discovery
 * (so a state's number is its place in the queue), and an open-addressing table of their numbers
 * (linear probing; Knuth: The Art of Computer Programming 3, 6.4).
 */
export class StateTable {
  /** Packed states, `words` a state. */
  states: Uint32Array
  count = 0
  /** 1 + a state's number, or 0 where nothing stands. */
  private table: Uint32Array
  private mask: number

  constructor(private readonly words: number) {
    this.states = new Uint32Array(1024 * words)
    this.table = new Uint32Array(4096)
    this.mask = 4095
  }

  get bytes(): number {
    return this.states.byteLength + this.table.byteLength
  }

  /**
   * The number of the state at `keys[offset…]`; a new state gets the next number (which is then
   * `count - 1`).
   */
  add(keys: Uint32Array, offset: number): number {
    // Two thirds full is where linear probing begins to cost more than the memory saves.
    if (this.count * 3 >= this.table.length * 2) this.grow()
    const { words, table, mask } = this
    let states = this.states
    let slot = hash(keys, offset, words) & mask
    if (words === 1) {
      const key = keys[offset]!
      for (;;) {
        const found = table[slot]!
        if (found === 0) break
        if (states[found - 1] === key) return found - 1
        slot = (slot + 1) & mask
      }
    } else {
      for (;;) {
        const found = table[slot]!
        if (found === 0) break
        let at = (found - 1) * words
        let word = 0
        while (word < words && states[at] === keys[offset + word]) {
          at += 1
          word += 1
        }
        if (word === words) return found - 1
        slot = (slot + 1) & mask
      }
    }
    const number = this.count
    const base = number * words
    if (base + words > states.length) {
      states = new Uint32Array(states.length * 2)
      states.set(this.states)
      this.states = states
    }
    for (let word = 0; word < words; word += 1) states[base + word] = keys[offset + word]!
    table[slot] = number + 1
    this.count = number + 1
    return number
  }

  private grow(): void {
    const size = this.table.length * (this.table.length < 2 ** 22 ? 4 : 2)
    const table = new Uint32Array(size)
    const mask = size - 1
    const { states, words } = this
    for (let number = 0; number < this.count; number += 1) {
      let slot = hash(states, number * words, words) & mask
      while (table[slot] !== 0) slot = (slot + 1) & mask
      table[slot] = number + 1
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

/** A list of numbers that grows by doubling. */
export class NumberList {
  items: Uint32Array
  length = 0

  constructor(capacity = 1024) {
    this.items = new Uint32Array(capacity)
  }

  push(value: number): void {
    if (this.length === this.items.length) {
      const grown = new Uint32Array(this.items.length * 2)
      grown.set(this.items)
      this.items = grown
    }
    this.items[this.length] = value
    this.length += 1
  }
}
