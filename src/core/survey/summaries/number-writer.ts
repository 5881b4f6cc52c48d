const NOTHING: readonly number[] = []

/** A list of numbers that is written again and again. */
export class NumberWriter {
  private readonly items: number[] = []
  length = 0

  push(item: number): void {
    this.items[this.length] = item
    this.length += 1
  }

  include(item: number): void {
    const { items, length } = this
    for (let at = 0; at < length; at += 1) if (items[at] === item) return
    this.push(item)
  }

  at(index: number): number {
    return this.items[index]!
  }

  put(index: number, item: number): void {
    this.items[index] = item
  }

  /** What was written, in a list of its own; nothing is written afterwards. */
  take(): readonly number[] {
    if (this.length === 0) return NOTHING
    const list = this.items.slice(0, this.length)
    this.length = 0
    return list
  }
}
