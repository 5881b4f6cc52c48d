/** Bits of one chunk of slots, by beat. */
export interface ChunkByBeat {
  readonly beats: Int32Array
  readonly bits: Int32Array
}

export function sameChunks(a: ChunkByBeat, b: ChunkByBeat): boolean {
  return (
    a.beats.length === b.beats.length && a.beats.every((beat, at) => beat === b.beats[at] && a.bits[at] === b.bits[at])
  )
}

const NONE: readonly number[] = []

export class BitList {
  private readonly beats: number[] = []
  private readonly bits: number[] = []

  add(beat: number, bits: number): void {
    if (bits === 0) return
    this.beats.push(beat)
    this.bits.push(bits)
  }

  /** In the order of the beats. */
  list(): ChunkByBeat {
    // a number for both is sorted without asking anybody how two of them compare
    const { length } = this.beats
    const both = new Float64Array(length)
    for (let at = 0; at < length; at += 1) both[at] = this.beats[at]! * 2 ** 32 + (this.bits[at]! >>> 0)
    both.sort()
    const [beats, bits] = [new Int32Array(length), new Int32Array(length)]
    for (let at = 0; at < length; at += 1) {
      beats[at] = both[at]! / 2 ** 32
      bits[at] = both[at]! % 2 ** 32
    }
    return { beats, bits }
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
    const [own, others] = [this.rows[row] ?? NONE, other.rows[row] ?? NONE]
    return own.length === others.length && own.every((word, at) => word === others[at])
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
