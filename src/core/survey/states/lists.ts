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

/** Numbers of a part of a long list, as a power of 2. */
const PART_BITS = 20
const PART = 2 ** PART_BITS

/** A list of very many numbers, in parts: it never has to be copied to grow. */
export class LongList {
  length = 0
  private readonly parts: Uint32Array[] = [new Uint32Array(1024)]

  get bytes(): number {
    return this.parts.reduce((sum, part) => sum + part.byteLength, 0)
  }

  at(index: number): number {
    return this.parts[index >>> PART_BITS]![index & (PART - 1)]!
  }

  replaceAll(by: (value: number) => number): void {
    for (let index = 0; index < this.length; index += 1) {
      const part = this.parts[index >>> PART_BITS]!
      part[index & (PART - 1)] = by(part[index & (PART - 1)]!)
    }
  }

  /**
   * Adds up to `most` numbers: `write` is told where to write them, and how many, which may be fewer;
   * gives how many.
   */
  write(most: number, write: (into: Uint32Array, at: number, count: number) => void): number {
    const part = this.length >>> PART_BITS
    const at = this.length & (PART - 1)
    const count = Math.min(most, PART - at)
    const before = this.parts[part]
    if (before === undefined) this.parts.push(new Uint32Array(PART))
    else if (at + count > before.length) this.parts[part] = enlarged(before, at + count, PART)
    write(this.parts[part]!, at, count)
    this.length += count
    return count
  }
}

/** Twice as large while small, then half as large again: what is not used yet costs memory too. */
export function enlarged<T extends Uint32Array | Int32Array>(list: T, needed: number, most = Infinity): T {
  const grown = new (list.constructor as new (length: number) => T)(
    Math.min(most, Math.max(needed, Math.ceil(list.length * (list.length < 2 ** 18 ? 2 : 1.5)))),
  )
  grown.set(list)
  return grown
}
