/** Rows of bits in one array: sets of slots, of places. */
export class BitRows {
  readonly words: number
  readonly bits: Uint32Array
  /** A view costs more than a look at it. */
  private readonly views: Uint32Array[] = []

  constructor(rows: number, size: number) {
    this.words = Math.max(1, Math.ceil(size / 32))
    this.bits = new Uint32Array(rows * this.words)
  }

  row(index: number): Uint32Array {
    return (this.views[index] ??= this.bits.subarray(index * this.words, (index + 1) * this.words))
  }
}

/** Whether a row is the same in both, which have rows of as many words. */
export function isSameRow({ bits, words }: BitRows, other: BitRows, row: number): boolean {
  for (let word = row * words; word < (row + 1) * words; word += 1) if (bits[word] !== other.bits[word]) return false
  return true
}

export function include(set: Uint32Array, bit: number): void {
  set[bit >>> 5]! |= 1 << (bit & 31)
}

export function has(set: Uint32Array, bit: number): boolean {
  return ((set[bit >>> 5]! >>> (bit & 31)) & 1) === 1
}

/** The members of a set, in order. */
export function members(set: Uint32Array): number[] {
  const found: number[] = []
  for (let word = 0; word < set.length; word += 1) {
    let rest = set[word]!
    while (rest !== 0) {
      found.push(word * 32 + 31 - Math.clz32(rest & -rest))
      rest &= rest - 1
    }
  }
  return found
}

/** The member of a row that has one alone, or -1. */
export function onlyMember({ bits, words }: BitRows, row: number): number {
  let only = -1
  for (let word = 0; word < words; word += 1) {
    const some = bits[row * words + word]!
    if (some === 0) continue
    if (only !== -1 || (some & (some - 1)) !== 0) return -1
    only = word * 32 + 31 - Math.clz32(some)
  }
  return only
}

/** Whether a row has no members. */
export function isEmpty({ bits, words }: BitRows, row: number): boolean {
  for (let word = 0; word < words; word += 1) if (bits[row * words + word] !== 0) return false
  return true
}
