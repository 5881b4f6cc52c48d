/** A working vector that tells which slots are read before they are written, and which are written. */
export class WatchedValues {
  /** The same, with nobody told. */
  readonly bare: Int32Array
  readonly watched: Int32Array
  /** Hears of each slot that is read while something is played and that nothing in it had written, once. */
  onRead: (slot: number) => void = () => undefined
  /** By slot: 1 where it may have any of a range of values. */
  readonly ranged: Uint8Array
  /** Hears of each of those that is read, and leaves it one value. */
  onRanged: (slot: number) => void = () => undefined
  /** Slots written while it was played, each once. */
  readonly writes: number[] = []
  private readonly reads: number[] = []
  private readonly state: Uint8Array
  private isWatching = false

  constructor(length: number) {
    this.bare = new Int32Array(length)
    this.state = new Uint8Array(length)
    this.ranged = new Uint8Array(length)
    this.watched = new Proxy(this.bare, {
      get: (bare, key) => {
        const slot = typeof key === 'string' ? Number(key) : NaN
        if (slot >= 0) {
          if (this.isWatching && this.state[slot] === 0) {
            this.state[slot] = READ
            this.reads.push(slot)
            this.onRead(slot)
          }
          if (this.ranged[slot] === 1) this.onRanged(slot)
          return bare[slot]
        }
        const value: unknown = Reflect.get(bare, key, bare)
        return typeof value === 'function' ? (value.bind(bare) as unknown) : value
      },
      set: (bare, key, value: number) => {
        const slot = Number(key)
        bare[slot] = value
        this.ranged[slot] = 0
        if (this.isWatching) this.noteWritten(slot)
        return true
      },
    })
  }

  private noteWritten(slot: number): void {
    if ((this.state[slot]! & WRITTEN) !== 0) return
    this.state[slot]! |= WRITTEN
    this.writes.push(slot)
  }

  /** Whether nothing read or wrote a slot so far while this is played. */
  isUntouched(slot: number): boolean {
    return this.isWatching && this.state[slot] === 0
  }

  /** Writes the least of the values that a slot may have now. */
  writeRanged(slot: number, least: number): void {
    this.bare[slot] = least
    this.ranged[slot] = 1
    this.noteWritten(slot)
  }

  /** Whether a slot has been written while this is played. */
  isWritten(slot: number): boolean {
    return (this.state[slot]! & WRITTEN) !== 0
  }

  /** Those of some slots that were read or written so far while this is played, with what they hold. */
  known(slots: readonly number[]): [slot: number, value: number][] {
    return slots.filter((slot) => this.state[slot] !== 0).map((slot) => [slot, this.bare[slot]!])
  }

  /** Plays something; `writes` are then its own. */
  watch<T>(play: () => T): T {
    for (const slot of this.reads) this.state[slot] = 0
    for (const slot of this.writes) {
      this.state[slot] = 0
      this.ranged[slot] = 0
    }
    this.reads.length = 0
    this.writes.length = 0
    this.isWatching = true
    try {
      return play()
    } finally {
      this.isWatching = false
    }
  }
}

const READ = 1
const WRITTEN = 2
