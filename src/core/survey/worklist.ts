import type { LinkedBeat, LinkedStory, Road } from '../story/linked'

/**
 * Beats in reverse postorder of their roads: nearly every beat after those that lead to it. Swept
 * in that order, a data-flow analysis settles in about as many sweeps as loops are nested, and two
 * (Aho, Lam, Sethi, Ullman: Compilers, 9.6).
 */
export function roadOrder(story: LinkedStory): Int32Array {
  const { beats, start } = story
  const seen = new Uint8Array(beats.length)
  const postorder = (root: number): number[] => {
    const done: number[] = []
    const stack = [{ beat: root, next: targetsOf(beats[root]!), at: 0 }]
    seen[root] = 1
    while (stack.length > 0) {
      const top = stack.at(-1)!
      const target = top.next[top.at]
      top.at += 1
      if (target === undefined) {
        done.push(top.beat)
        stack.pop()
      } else if (seen[target] === 0) {
        seen[target] = 1
        stack.push({ beat: target, next: targetsOf(beats[target]!), at: 0 })
      }
    }
    return done
  }
  const order = start === -1 ? [] : postorder(start).reverse()
  for (const { index } of beats) if (seen[index] === 0) order.push(...postorder(index).reverse())
  return Int32Array.from(order)
}

function targetsOf(beat: LinkedBeat): number[] {
  const targets: number[] = []
  const add = (road: Road) => {
    if (road.kind === 'beat') targets.push(road.beat)
  }
  for (const rule of beat.redirects) add(rule.to)
  for (const choice of beat.choices) {
    if (choice.to.kind === 'road') add(choice.to.road)
    else for (const rule of choice.to.rules) add(rule.to)
  }
  for (const rule of beat.onward) add(rule.to)
  return targets
}

/** Beats still to be looked at, taken in sweeps over a given order. */
export class Worklist {
  private readonly rank: Int32Array
  private readonly pending: Uint8Array
  private at = 0
  private count = 0

  constructor(private readonly order: Int32Array) {
    this.rank = new Int32Array(order.length)
    order.forEach((beat, rank) => {
      this.rank[beat] = rank
    })
    this.pending = new Uint8Array(order.length)
  }

  addAll(): void {
    this.pending.fill(1)
    this.count = this.pending.length
  }

  add(beat: number): void {
    const rank = this.rank[beat]!
    if (this.pending[rank] === 1) return
    this.pending[rank] = 1
    this.count += 1
  }

  /** The next beat of this sweep or of the next one, or -1 when none is left. */
  take(): number {
    if (this.count === 0) return -1
    const { pending } = this
    while (pending[this.at] !== 1) this.at = this.at + 1 >= pending.length ? 0 : this.at + 1
    pending[this.at] = 0
    this.count -= 1
    return this.order[this.at]!
  }
}
