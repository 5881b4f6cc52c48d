import type { Diagrams } from './diagrams'
import { EMPTY, NodeTable, TooMuch, UNIT, type DiagramLimits } from './node-table'

/** What is done, beside with a relation; that of the lesser of two is followed by what is added to the other. */
const LESSER = -1
const RESTRICT = -2
const ZERO = -3
const MEMBERS = -4
const LEAST = -5
const NEAREST = -6
const LEAST_SUM = -7
const NEAREST_SUM = -8
/** Followed by the relation. */
export const LEAST_BEFORE = -9
export const KINDS = 9

/** What is worked out between two looks whether time and room are left, less one. */
const WORK_LOOK = 0xffff

/** Nothing has a number. */
export const NONE = 0x7fffffff

/** What a function is looked at together with: a set, or another function; `at` is the place of a part of the function. */
interface Other {
  readonly least: number
  readonly nearest: number
  readonly plus: (beside: number, at: number) => number
  readonly part: (beside: number, at: number) => number
}

export function told(least: number): number | undefined {
  return least === NONE ? undefined : least
}

/** A function: a node, and what is added to all of its numbers. */
export interface Valued {
  readonly offset: number
  readonly node: number
}

/**
 * Functions from assignments of values to variables to numbers, or to nothing, as edge-valued decision diagrams: what is on the edges
 * of the way to an assignment adds up to its number (Ciardo, Siminiceanu: Using edge-valued decision diagrams for symbolic generation
 * of shortest paths, 2002). Each is held once: the least number of a node is 0, and what is to be added to all is told beside it, in
 * `offset`. Parts of a node are pairs of what is added and the node below; EMPTY has no number for anything. Throws TooMuch.
 */
export class EdgeValues extends NodeTable {
  /** What is to be added to the function that was worked out last. */
  offset = 0
  /** How much may be worked out. */
  most = Infinity
  private readonly ofSets: Other = {
    least: LEAST,
    nearest: NEAREST,
    plus: () => 0,
    part: (set, at) => this.sets.part(set, at / 2),
  }
  private readonly ofFunctions: Other = {
    least: LEAST_SUM,
    nearest: NEAREST_SUM,
    plus: (other, at) => this.part(other, at),
    part: (other, at) => this.part(other, at + 1),
  }
  /** By place in the memory of what was worked out. */
  private offsets = new Int32Array(0)

  constructor(
    protected readonly sets: Diagrams,
    limits?: DiagramLimits,
  ) {
    super(limits)
  }

  /** The lesser of two functions. */
  lesserOf(a: Valued, b: Valued): Valued {
    if (a.node === EMPTY || b.node === EMPTY) return a.node === EMPTY ? b : a
    const [one, other] = a.offset <= b.offset ? [a, b] : [b, a]
    const node = this.lesser(one.node, other.node, other.offset - one.offset)
    return { node, offset: one.offset }
  }

  /** A function of the members of a set alone. */
  restricted({ node, offset }: Valued, set: number): Valued {
    const made = this.restrict(node, set)
    return { node: made, offset: offset + this.offset }
  }

  /** What a function says of values of its variables, in order; undefined where that is nothing. */
  of({ node, offset }: Valued, values: readonly number[]): number | undefined {
    let [at, sum] = [node, offset]
    for (const value of values) {
      if (at === EMPTY || value < 0 || 2 * value >= this.sizeOf(at)) return undefined
      sum += this.part(at, 2 * value)
      at = this.part(at, 2 * value + 1)
    }
    return at === UNIT ? sum : undefined
  }

  /** 0 for the members of a set. */
  zero(set: number): number {
    this.offset = 0
    if (set <= UNIT) return set
    const known = this.recall(ZERO, set, 0)
    if (known !== -1) return known
    const size = this.sets.sizeOf(set)
    const base = this.room(size)
    for (let value = 0; value < size; value += 1) {
      const child = this.zero(this.sets.part(set, value))
      this.stack[base + 2 * value + 1] = child
    }
    return this.keep(ZERO, set, 0, 0, this.pop(base, 2 * size))
  }

  /** The lesser of a function and another that is `more` or more, 0 at least; the other may have no number for anything. */
  lesser(a: number, b: number, more: number): number {
    this.offset = 0
    if (b === EMPTY || a === b || a === UNIT) return a
    if (more === 0 && a > b) return this.lesser(b, a, 0)
    const op = LESSER - KINDS * more
    const known = this.recall(op, a, b)
    if (known !== -1) return known
    const length = this.sizeOf(a)
    const base = this.room(length / 2)
    for (let at = 0; at < length; at += 2) {
      const [left, right] = [this.part(a, at + 1), this.part(b, at + 1)]
      const [plus, other] = [this.part(a, at), this.part(b, at) + more]
      const isLeft = right === EMPTY || (left !== EMPTY && plus <= other)
      const made =
        left === EMPTY || right === EMPTY
          ? isLeft
            ? left
            : right
          : isLeft
            ? this.lesser(left, right, other - plus)
            : this.lesser(right, left, plus - other)
      this.stack[base + at] = isLeft ? plus : other
      this.stack[base + at + 1] = made
    }
    return this.keep(op, a, b, 0, this.pop(base, length))
  }

  /** The same of a node. */
  restrict(one: number, set: number): number {
    this.offset = 0
    if (one === EMPTY || set === EMPTY) return EMPTY
    if (one === UNIT) return UNIT
    const known = this.recall(RESTRICT, one, set)
    if (known !== -1) return known
    const length = this.sizeOf(one)
    const base = this.room(length / 2)
    for (let at = 0; at < length; at += 2) {
      const made = this.restrict(this.part(one, at + 1), this.sets.part(set, at / 2))
      this.put(base + at, this.part(one, at) + this.offset, made)
    }
    return this.normal(RESTRICT, one, set, base, length)
  }

  /** All that has a number. */
  members(one: number): number {
    if (one <= UNIT) return one
    const known = this.known(MEMBERS, one, 0)
    if (known !== -1) return known
    const parts: number[] = []
    for (let at = 1; at < this.sizeOf(one); at += 2) parts.push(this.members(this.part(one, at)))
    return this.remember(MEMBERS, one, 0, this.sets.node(parts))
  }

  /** The least number of members of a set; undefined where none has one. */
  least(one: number, set: number): number | undefined {
    return told(this.leastWith(this.ofSets, one, set))
  }

  /** Those members of a set that have the least number. */
  nearest(one: number, set: number): number {
    return this.nearestWith(this.ofSets, one, set)
  }

  /** The least sum of two functions; undefined where nothing has a number in both. */
  leastSum(a: number, b: number): number | undefined {
    return told(this.leastWith(this.ofFunctions, a, b))
  }

  /** What has the least sum. */
  nearestSum(a: number, b: number): number {
    return this.nearestWith(this.ofFunctions, a, b)
  }

  private leastWith(other: Other, one: number, beside: number): number {
    if (one === EMPTY || beside === EMPTY) return NONE
    if (one === UNIT) return 0
    const known = this.known(other.least, one, beside)
    if (known !== -1) return known
    let least = NONE
    for (let at = 0; at < this.sizeOf(one); at += 2) {
      const plus = this.part(one, at) + other.plus(beside, at)
      if (plus >= least) continue
      const below = this.leastWith(other, this.part(one, at + 1), other.part(beside, at))
      if (below !== NONE) least = Math.min(least, plus + below)
    }
    return this.remember(other.least, one, beside, least)
  }

  private nearestWith(other: Other, one: number, beside: number): number {
    const least = this.leastWith(other, one, beside)
    if (least === NONE) return EMPTY
    if (one === UNIT) return UNIT
    const known = this.known(other.nearest, one, beside)
    if (known !== -1) return known
    const parts: number[] = []
    for (let at = 0; at < this.sizeOf(one); at += 2) {
      const [child, those] = [this.part(one, at + 1), other.part(beside, at)]
      const below = this.leastWith(other, child, those)
      const isLeast = below !== NONE && this.part(one, at) + other.plus(beside, at) + below === least
      parts.push(isLeast ? this.nearestWith(other, child, those) : EMPTY)
    }
    return this.remember(other.nearest, one, beside, this.sets.node(parts))
  }

  /** Room on the stack for a node with so many parts that have no number for anything. */
  protected room(size: number): number {
    const base = this.push(2 * size)
    this.stack.fill(0, base, base + 2 * size)
    return base
  }

  protected put(place: number, offset: number, node: number): void {
    this.stack[place] = node === EMPTY ? 0 : offset
    this.stack[place + 1] = node
  }

  /** Makes a function on the stack the lesser of itself and another; says whether it is another one then. */
  protected join(place: number, offset: number, node: number): boolean {
    if (node === EMPTY) return false
    const [plus, own] = [this.stack[place]!, this.stack[place + 1]!]
    if (own === EMPTY || offset < plus) {
      const made = own === EMPTY ? node : this.lesser(node, own, plus - offset)
      this.put(place, offset, made)
      return true
    }
    const made = this.lesser(own, node, offset - plus)
    this.stack[place + 1] = made
    return made !== own
  }

  /** The node whose parts are on the stack, with the least number as its offset; it is kept. */
  protected normal(op: number, a: number, b: number, base: number, length: number): number {
    const { stack } = this
    let least = NONE
    for (let at = base; at < base + length; at += 2) if (stack[at + 1] !== EMPTY) least = Math.min(least, stack[at]!)
    if (least === NONE) least = 0
    for (let at = base; at < base + length; at += 2) if (stack[at + 1] !== EMPTY) stack[at]! -= least
    return this.keep(op, a, b, least, this.pop(base, length))
  }

  protected recall(op: number, a: number, b: number): number {
    const known = this.known(op, a, b)
    if (known !== -1) this.offset = this.offsets[this.memoPlace(op, a, b) >> 2]!
    return known
  }

  protected keep(op: number, a: number, b: number, offset: number, node: number): number {
    this.store(op, a, b, node)
    if (this.work > this.most || ((this.work & WORK_LOOK) === 0 && this.isOver())) throw new TooMuch()
    if (this.offsets.length !== this.entries) this.offsets = new Int32Array(this.entries)
    this.offsets[this.memoPlace(op, a, b) >> 2] = offset
    this.giveWay()
    this.offset = offset
    return node
  }
}
