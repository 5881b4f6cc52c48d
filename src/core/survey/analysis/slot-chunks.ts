import { sameNumbers } from '../../base/same'

/** Bits of one chunk of slots, by beat. */
export interface ChunkByBeat {
  readonly beats: Int32Array
  readonly bits: Int32Array
}

export function sameChunks(a: ChunkByBeat, b: ChunkByBeat): boolean {
  if (a === b) return true
  return (
    a.beats.length === b.beats.length && a.beats.every((beat, at) => beat === b.beats[at] && a.bits[at] === b.bits[at])
  )
}

/** The same bits, but for some beats, given in order, those that `now` has of them. */
export function withThese(before: ChunkByBeat, beats: Int32Array, now: ChunkByBeat): ChunkByBeat {
  if (beats.length === 0) return before
  const merged = new BitList()
  let at = 0
  let fresh = 0
  for (const beat of beats) {
    for (; at < before.beats.length && before.beats[at]! < beat; at += 1)
      merged.add(before.beats[at]!, before.bits[at]!)
    if (before.beats[at] === beat) at += 1
    if (now.beats[fresh] === beat) merged.add(beat, now.bits[fresh++]!)
  }
  for (; at < before.beats.length; at += 1) merged.add(before.beats[at]!, before.bits[at]!)
  const list = merged.list()
  return sameChunks(before, list) ? before : list
}

const NONE: readonly number[] = []

/** Such bits as they are found, beat after beat. */
export class BitList {
  private readonly beats: number[] = []
  private readonly bits: number[] = []

  add(beat: number, bits: number): void {
    if (bits === 0) return
    this.beats.push(beat)
    this.bits.push(bits)
  }

  list(): ChunkByBeat {
    return { beats: Int32Array.from(this.beats), bits: Int32Array.from(this.bits) }
  }
}

/** Sets of slots by beat, most of them small: for each beat the chunks that are not empty. */
export class SlotChunks {
  private readonly rows: (number[] | undefined)[]

  constructor(length: number) {
    this.rows = new Array<number[] | undefined>(length)
  }

  /** Words come in their order. */
  add(row: number, chunk: number, bits: number): void {
    if (bits === 0) return
    const known = this.rows[row]
    if (known === undefined) this.rows[row] = [chunk, bits]
    else known.push(chunk, bits)
  }

  /** Whether a row is what it is in another. */
  isSameAt(row: number, other: SlotChunks): boolean {
    return sameNumbers(this.rows[row] ?? NONE, other.rows[row] ?? NONE)
  }

  slots(row: number): number[] {
    const found: number[] = []
    const chunks = this.rows[row] ?? NONE
    for (let at = 0; at < chunks.length; at += 2) {
      for (let rest = chunks[at + 1]!; rest !== 0; rest &= rest - 1)
        found.push(chunks[at]! * 32 + 31 - Math.clz32(rest & -rest))
    }
    return found
  }
}
