/** What was seen of the parts of a gate wherever it is asked. */
export class GateObservations {
  /** By part: whether it ever holds. */
  readonly held: boolean[]
  /** By part and slot that it reads: the values there. */
  readonly saw: Set<number>[][]
  /** The fewest parts that fail together somewhere, by their numbers. */
  fewest: readonly number[] | undefined

  constructor(readonly reads: readonly (readonly number[])[]) {
    this.held = reads.map(() => false)
    this.saw = reads.map((slots) => slots.map(() => new Set<number>()))
  }

  /** Looks at a gate that is asked, with the values at hand. */
  look(tests: readonly (() => boolean)[], values: Int32Array): void {
    const failing: number[] = []
    tests.forEach((test, at) => {
      if (test()) this.held[at] = true
      else failing.push(at)
      this.reads[at]!.forEach((slot, number) => this.saw[at]![number]!.add(values[slot]!))
    })
    this.fail(failing)
  }

  /** Parts fail together. */
  fail(failing: readonly number[]): void {
    if (this.fewest === undefined || failing.length < this.fewest.length) this.fewest = failing
  }
}
