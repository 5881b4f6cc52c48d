import { lastAtMost } from '../../base/last-at-most'
import { NumberList } from '../states/lists'
import type { StateSet } from '../states/state-set'

/** States and the transitions between them, both by number; those of a state stand together. */
export interface TransitionGraph {
  readonly states: number
  /** Only these states' transitions are known: the first so many. */
  readonly expanded: number
  readonly transitions: number
  readonly table: StateSet
  readonly degrees: Uint8Array | Uint32Array
  /** Whether some transitions are no decisions, but changes of what is given; and how many of a state's first ones are. */
  readonly hasMoves: boolean
  movesOf(state: number): number
  degree(state: number): number
  firstEdge(state: number): number
  successor(transition: number): number
  successorId(transition: number): number
}

/** Rows between two whose beginning is written down. */
const STRIDE = 64

/**
 * Where each row of a long list begins, rows being short and many: how long each is, in a byte
 * where all are that short, and for every 64th where it begins.
 */
export class DegreeList {
  private lengths: Uint8Array | Uint32Array = new Uint8Array(1024)
  private readonly starts = new NumberList(64)
  private count = 0
  private total = 0

  get bytes(): number {
    return this.lengths.byteLength + this.starts.items.byteLength
  }

  push(length: number): void {
    if (this.count % STRIDE === 0) this.starts.push(this.total)
    if (this.count === this.lengths.length || (length > 255 && this.lengths instanceof Uint8Array))
      this.grow(length > 255)
    this.lengths[this.count] = length
    this.count += 1
    this.total += length
  }

  /** Pushes many rows, none longer than a byte can tell. */
  append(lengths: Uint8Array): void {
    while (this.count + lengths.length > this.lengths.length) this.grow(false)
    const { starts, count } = this
    this.lengths.set(lengths, count)
    let { total } = this
    for (let at = 0; at < lengths.length; at += 1) {
      if ((count + at) % STRIDE === 0) starts.push(total)
      total += lengths[at]!
    }
    this.count = count + lengths.length
    this.total = total
  }

  /** Where a row begins; for the row after the last, where that ends. */
  start(row: number): number {
    if (row >= this.count) return this.total
    const { lengths } = this
    let at = row - (row % STRIDE)
    let start = this.starts.items[at / STRIDE]!
    for (; at < row; at += 1) start += lengths[at]!
    return start
  }

  /** Of all rows, and perhaps more. */
  get allLengths(): Uint8Array | Uint32Array {
    return this.lengths
  }

  lengthOf(row: number): number {
    return row < this.count ? this.lengths[row]! : 0
  }

  /** The row that holds an element. */
  rowOf(element: number): number {
    const { starts, lengths } = this
    const low = lastAtMost(starts.items, starts.length, element)
    let row = low * STRIDE
    let end = starts.items[low]! + lengths[row]!
    while (end <= element) {
      row += 1
      end += lengths[row]!
    }
    return row
  }

  private grow(long: boolean): void {
    const Kind = long || this.lengths instanceof Uint32Array ? Uint32Array : Uint8Array
    const grown = new Kind(Math.ceil(this.lengths.length * (this.lengths.length < 2 ** 18 ? 2 : 1.5)))
    grown.set(this.lengths.subarray(0, this.count))
    this.lengths = grown
  }
}
