import { enlarged } from './lists'

/** States that are added at once, at most. */
export const BATCH = 1024

/** Bits of one page, as a power of 2, and the cells that hold them. */
export const PAGE_BITS = 8
export const PAGE_WORDS = 2 ** (PAGE_BITS - 5)
export const IN_PAGE = 2 ** PAGE_BITS - 1

/** Pages that are looked up by their number; where there can be more, by a hash. */
const NUMBERED_MAX = 2 ** 20

/** At most half of the places in the table of pages are used: beyond that the way to a page is long, and how long cannot be guessed. */
const LOAD = 1 / 2

const multiply = Math.imul

/** Pages of neighbouring states: packed, they differ only in the lowest bits of their first cell. */
export abstract class Pages {
  count = 0
  /** What the states of each page have in common, the bits that they don't have in common being 0. */
  protected common: Int32Array

  constructor(protected readonly cells: number) {
    this.common = new Int32Array(1024 * cells)
  }

  abstract get bytes(): number

  /**
   * The page of each of some packed states, made where there is none; what is given for one that is none
   * means nothing. Good until it is asked again.
   */
  abstract find(keys: Uint32Array, size: number): Int32Array

  /** Where the bit of one packed state stands, after that of the first page; -1 where there is no page of it. */
  abstract bitOf(key: Uint32Array): number

  /** One cell of the packed state whose bit stands so many bits after the beginning of the first page. */
  wordOf(bit: number, cell: number): number {
    const common = this.common[(bit >>> PAGE_BITS) * this.cells + cell]!
    return (cell === 0 ? common | (bit & IN_PAGE) : common) >>> 0
  }

  protected reserve(more: number): void {
    const needed = (this.count + more) * this.cells
    if (needed > this.common.length) this.common = enlarged(this.common, needed)
  }
}

/** For packed states of so many cells, and if it is one, with numbers below `space`. */
export function pagesFor(cells: number, space: number): Pages {
  const most = Math.floor(space / 2 ** PAGE_BITS) + 1
  return cells === 1 && most <= NUMBERED_MAX ? new NumberedPages(most) : new HashedPages(cells)
}

/** Pages of states of one cell, by their number. */
class NumberedPages extends Pages {
  /** 1 + where a page stands in their order, or 0 where there is none. */
  private readonly table: Int32Array
  private readonly found = new Int32Array(BATCH)

  constructor(most: number) {
    super(1)
    this.table = new Int32Array(most)
  }

  get bytes(): number {
    return this.common.byteLength + this.table.byteLength
  }

  find(keys: Uint32Array, size: number): Int32Array {
    this.reserve(size)
    const { table, found, common } = this
    for (let index = 0; index < size; index += 1) {
      const key = keys[index]! | 0
      if (key < 0) continue
      let page = table[key >> PAGE_BITS]!
      if (page === 0) {
        common[this.count] = key & ~IN_PAGE
        this.count += 1
        page = this.count
        table[key >> PAGE_BITS] = page
      }
      found[index] = page - 1
    }
    return found
  }

  bitOf(key: Uint32Array): number {
    const page = this.table[key[0]! >>> PAGE_BITS]!
    return page === 0 ? -1 : (((page - 1) << PAGE_BITS) | (key[0]! & IN_PAGE)) >>> 0
  }
}

/** Pages in an open-addressing table (linear probing; Knuth: The Art of Computer Programming 3, 6.4). */
class HashedPages extends Pages {
  /**
   * 1 + a page's number, or 0 where nothing stands. A number needs no more bits than the mask has; the
   * bits above are the hash's own, and save nearly every look at a page that is another.
   */
  private table = new Int32Array(4096)
  private readonly hashes = new Int32Array(BATCH)
  /** Keeps the reads of the first pass from being left out. */
  private warmed = 0

  get bytes(): number {
    return this.common.byteLength + this.table.byteLength
  }

  /** Going over all of them first lets the waits for memory overlap. */
  find(keys: Uint32Array, size: number): Int32Array {
    while (this.count + size > this.table.length * LOAD) this.grow()
    this.reserve(size)
    const { cells, table, hashes } = this
    const mask = table.length - 1
    let warmed = 0
    for (let index = 0; index < size; index += 1) {
      const mixed = hash(keys, index * cells, cells)
      hashes[index] = mixed
      warmed ^= table[mixed & mask]!
    }
    this.warmed = warmed
    for (let index = 0; index < size; index += 1) {
      const key = index * cells
      if ((keys[key]! | 0) === -1) continue
      const mixed = hashes[index]!
      let place = mixed & mask
      let found = table[place]!
      while (found !== 0) {
        if (((found ^ mixed) & ~mask) === 0 && this.holds(((found & mask) - 1) * cells, keys, key)) break
        place = (place + 1) & mask
        found = table[place]!
      }
      if (found === 0) {
        const { common } = this
        const base = this.count * cells
        common[base] = keys[key]! & ~IN_PAGE
        for (let cell = 1; cell < cells; cell += 1) common[base + cell] = keys[key + cell]!
        this.count += 1
        found = (mixed & ~mask) | this.count
        table[place] = found
      }
      hashes[index] = (found & mask) - 1
    }
    return hashes
  }

  bitOf(key: Uint32Array): number {
    const { cells, table } = this
    const mask = table.length - 1
    const mixed = hash(key, 0, cells)
    for (let place = mixed & mask; table[place] !== 0; place = (place + 1) & mask) {
      const page = (table[place]! & mask) - 1
      if (this.holds(page * cells, key, 0)) return ((page << PAGE_BITS) | (key[0]! & IN_PAGE)) >>> 0
    }
    return -1
  }

  private holds(base: number, keys: Uint32Array, key: number): boolean {
    const { common, cells } = this
    if (common[base] !== (keys[key]! & ~IN_PAGE)) return false
    for (let cell = 1; cell < cells; cell += 1) if (common[base + cell] !== (keys[key + cell]! | 0)) return false
    return true
  }

  private grow(): void {
    const table = new Int32Array(this.table.length * (this.table.length < 2 ** 20 ? 4 : 2))
    const mask = table.length - 1
    const { common, cells } = this
    for (let page = 0; page < this.count; page += 1) {
      const mixed = hash(common, page * cells, cells)
      let place = mixed & mask
      while (table[place] !== 0) place = (place + 1) & mask
      table[place] = (mixed & ~mask) | (page + 1)
    }
    this.table = table
  }
}

/** Each cell, the first without its lowest bits, is mixed in with the finaliser of MurmurHash3 (Appleby, public domain). */
function hash(keys: Uint32Array | Int32Array, offset: number, cells: number): number {
  let mixed = keys[offset]! & ~IN_PAGE
  for (let cell = 1; ; cell += 1) {
    mixed = multiply(mixed, 0x85ebca6b)
    mixed = multiply(mixed ^ (mixed >>> 13), 0xc2b2ae35)
    mixed ^= mixed >>> 16
    if (cell === cells) return mixed
    mixed ^= keys[offset + cell]!
  }
}
