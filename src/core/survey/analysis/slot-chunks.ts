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

const NONE: readonly number[] = []

/** Such bits as they are found, beat after beat. */
export class BitList {
  private readonly beats: number[] = []
  private readonly bits: number[] = []
  private copied = 0

  add(beat: number, bits: number): void {
    if (bits === 0) return
    this.beats.push(beat)
    this.bits.push(bits)
  }

  /** Adds what a beat has in another list, always of the same. */
  copy({ beats, bits }: ChunkByBeat, beat: number): void {
    while (this.copied < beats.length && beats[this.copied]! < beat) this.copied += 1
    if (beats[this.copied] === beat) this.add(beat, bits[this.copied]!)
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
