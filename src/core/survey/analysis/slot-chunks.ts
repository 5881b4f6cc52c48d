/** Bits of one word of slots, by beat. */
export interface BitsByBeat {
  readonly beats: Int32Array
  readonly bits: Int32Array
}

export function sameRows(a: BitsByBeat, b: BitsByBeat): boolean {
  return (
    a.beats.length === b.beats.length && a.beats.every((beat, at) => beat === b.beats[at] && a.bits[at] === b.bits[at])
  )
}

export class BitList {
  private readonly beats: number[] = []
  private readonly bits: number[] = []

  add(beat: number, bits: number): void {
    if (bits === 0) return
    this.beats.push(beat)
    this.bits.push(bits)
  }

  /** In the order of the beats. */
  list(): BitsByBeat {
    const order = Int32Array.from(this.beats.keys()).sort((a, b) => this.beats[a]! - this.beats[b]!)
    return { beats: order.map((at) => this.beats[at]!), bits: order.map((at) => this.bits[at]!) }
  }
}

/** Sets of slots by beat, most of them small: for each beat the words that are not empty. */
export class SlotRows {
  private readonly rows: (number[] | undefined)[]

  constructor(length: number) {
    this.rows = new Array<number[] | undefined>(length)
  }

  /** Words come in their order. */
  add(row: number, word: number, bits: number): void {
    if (bits === 0) return
    const known = this.rows[row]
    if (known === undefined) this.rows[row] = [word, bits]
    else known.push(word, bits)
  }

  slots(row: number): number[] {
    const found: number[] = []
    const words = this.rows[row] ?? []
    for (let at = 0; at < words.length; at += 2) {
      for (let rest = words[at + 1]!; rest !== 0; rest &= rest - 1)
        found.push(words[at]! * 32 + 31 - Math.clz32(rest & -rest))
    }
    return found
  }
}
