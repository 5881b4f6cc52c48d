/** Some states of a set, a bit a state, told by what they are called; neighbours share a word, as they do in the set. Good as long as nothing is added to the set. */
export class StateBits {
  private readonly words: Int32Array

  constructor(words: number) {
    this.words = new Int32Array(words)
  }

  /** Whether the state of that id, which is in the set, is among them. */
  has(id: number): boolean {
    return ((this.words[id >>> 5]! >>> (id & 31)) & 1) === 1
  }

  add(id: number): void {
    this.words[id >>> 5]! |= 1 << (id & 31)
  }
}

/** How many bits of a word are set (Warren: Hacker's Delight, 5-1). */
export function ones(word: number): number {
  let sum = word - ((word >>> 1) & 0x55555555)
  sum = (sum & 0x33333333) + ((sum >>> 2) & 0x33333333)
  return Math.imul((sum + (sum >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
