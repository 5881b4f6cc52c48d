import { TO_RETURN } from '../summaries/beat-summary'
import type { Adjacency } from './adjacency'

/**
 * Beats in reverse postorder of their roads, of which some lead back: nearly every beat after those that lead to it. Swept
 * in that order, a data-flow analysis settles in about as many sweeps as loops are nested, and two
 * (Aho, Lam, Sethi, Ullman: Compilers, 9.6).
 */
export function roadOrder(roads: readonly Adjacency[], length: number, start: number): Int32Array {
  const order = new Int32Array(length)
  const seen = new Uint8Array(length)
  const stack = new Int32Array(length)
  const next = new Int32Array(length)
  // filled from its end: the postorder of each root, reversed, stands behind those of the roots before it
  const roots: Int32Array[] = []
  const done = new Int32Array(length)
  const postorder = (root: number) => {
    let count = 0
    let height = 1
    stack[0] = root
    seen[root] = 1
    while (height > 0) {
      const beat = stack[height - 1]!
      const target = targetAt(roads, beat, next[beat]!)
      next[beat]! += 1
      if (target === undefined) {
        done[count++] = beat
        height -= 1
      } else if (target !== TO_RETURN && seen[target] === 0) {
        seen[target] = 1
        stack[height++] = target
      }
    }
    roots.push(done.slice(0, count).reverse())
  }
  if (start !== -1) postorder(start)
  for (let beat = 0; beat < length; beat += 1) if (seen[beat] === 0) postorder(beat)
  let at = 0
  for (const root of roots) {
    order.set(root, at)
    at += root.length
  }
  return order
}

function targetAt(roads: readonly Adjacency[], beat: number, at: number): number | undefined {
  for (let kind = 0; kind < roads.length; kind += 1) {
    const { first, beats } = roads[kind]!
    const place = first[beat]! + at
    if (place < first[beat + 1]!) return beats[place]
    at -= first[beat + 1]! - first[beat]!
  }
  return undefined
}

/** Beats still to be looked at, taken in sweeps over a given order. */
export class Worklist {
  private readonly rank: Int32Array
  /** A bit a rank, so that a long stretch with nothing to do is passed over quickly. */
  private readonly pending: Int32Array
  private word = 0
  private count = 0

  constructor(private readonly order: Int32Array) {
    this.rank = new Int32Array(order.length)
    for (let rank = 0; rank < order.length; rank += 1) this.rank[order[rank]!] = rank
    this.pending = new Int32Array(Math.ceil(order.length / 32))
  }

  addAll(): void {
    for (let beat = 0; beat < this.order.length; beat += 1) this.add(beat)
  }

  add(beat: number): void {
    const rank = this.rank[beat]!
    const word = rank >>> 5
    const bit = 1 << (rank & 31)
    if ((this.pending[word]! & bit) !== 0) return
    this.pending[word]! |= bit
    this.count += 1
  }

  /** The next beat of this sweep or of the next one, or -1 when none is left. */
  take(): number {
    if (this.count === 0) {
      this.word = 0
      return -1
    }
    const { pending } = this
    while (pending[this.word] === 0) this.word = this.word + 1 === pending.length ? 0 : this.word + 1
    const bits = pending[this.word]!
    const low = bits & -bits
    pending[this.word] = bits ^ low
    this.count -= 1
    return this.order[this.word * 32 + 31 - Math.clz32(low)]!
  }
}
