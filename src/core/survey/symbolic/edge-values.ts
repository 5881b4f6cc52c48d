import type { Diagrams } from './diagrams'
import { EMPTY, NodeTable, TooMuch, UNIT, type DiagramLimits } from './node-table'
import type { Edge, Relation } from './relation'

const NO_EDGES: readonly Edge[] = []

/** What is done, beside with a relation; that of the lesser of two is followed by what is added to the other. */
const LESSER = -1
const RESTRICT = -2
const ZERO = -3
const MEMBERS = -4
const LEAST = -5
const NEAREST = -6
const LEAST_SUM = -7
const NEAREST_SUM = 0
/** Followed by the relation. */
const LEAST_BEFORE = -8
const KINDS = 8

/** Which way a relation is gone. */
export const ONWARD = 0
export const BACK = 1
export type Direction = typeof ONWARD | typeof BACK
/** Added for what is closed under it. */
const CLOSED = 2

/** Where commands lead that begin with a value, and what they do after it. */
interface Firing {
  readonly put: number
  readonly then: Relation
}

interface Firings {
  readonly order: readonly number[]
  readonly from: readonly (readonly Firing[])[]
}

/** An order of the nodes of a graph in which each comes before those to which it leads, but for circles: from what a search in depth leaves last to what it leaves first. */
function onwardFirst(to: readonly (readonly number[])[]): number[] {
  const left: number[] = []
  const seen = new Set<number>()
  const visit = (node: number) => {
    if (seen.has(node)) return
    seen.add(node)
    for (const next of to[node]!) visit(next)
    left.push(node)
  }
  for (const node of to.keys()) visit(node)
  return left.reverse()
}

/** What is worked out between two looks whether time and room are left, less one. */
const WORK_LOOK = 0xffff

/** No member has a value. */
const NONE = 0x7fffffff

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
  /** By variable of a relation. */
  private readonly orders = new Map<number, Firings>()
  /** By place in the memory of what was worked out. */
  private offsets = new Int32Array(0)

  constructor(
    private readonly sets: Diagrams,
    limits?: DiagramLimits,
  ) {
    super(limits)
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

  /** A function of the members of a set alone. */
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

  /** What commands of a relation make of a function; nothing is added for them. */
  along(relation: Relation, one: number, direction: Direction, step = 0): number {
    this.offset = 0
    if (one === EMPTY) return EMPTY
    const same = relation.isDone ? one : EMPTY
    if (step >= relation.end) return same
    const made = this.alongFrom(relation, one, direction, step)
    if (same === EMPTY) return made
    return this.lesser(same, made, this.offset)
  }

  private alongFrom(relation: Relation, one: number, direction: Direction, step: number): number {
    const op = 4 * relation.number + direction
    const known = this.recall(op, step, one)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const [reads, puts] = direction === ONWARD ? [from, to] : [to, from]
    const length = puts ? 2 * size : 2
    const base = this.room(length / 2)
    if (from && to && step + 1 < relation.end)
      for (let value = 0; value < size; value += 1) {
        const child = this.part(one, 2 * value + 1)
        if (child === EMPTY) continue
        const made = this.alongFrom(relation, child, direction, step + 1)
        this.put(base + 2 * value, this.part(one, 2 * value) + this.offset, made)
      }
    for (const { guard, write, then } of relation.edges[step] ?? NO_EDGES) {
      const end = guard === -1 ? (from ? size : 1) : guard + 1
      for (let value = Math.max(0, guard); value < end; value += 1) {
        const other = write === -1 ? value : write
        const [read, put] = direction === ONWARD ? [value, other] : [other, value]
        const plus = reads ? this.part(one, 2 * read) : 0
        const made = this.along(then, reads ? this.part(one, 2 * read + 1) : one, direction, step + 1)
        this.join(base + (puts ? 2 * put : 0), plus + this.offset, made)
      }
    }
    if (puts) return this.normal(op, step, one, base, length)
    this.height = base
    return this.keep(op, step, one, this.stack[base]!, this.stack[base + 1]!)
  }

  /**
   * The least numbers, where each command adds 1, of what commands lead to by members of `within` alone; to that the function belongs,
   * and all variables are told at both ends. By saturation, as sets are closed.
   */
  closed(relation: Relation, one: number, within: number, direction: Direction, step = 0): number {
    this.offset = 0
    if (one === EMPTY || step >= relation.end) return one
    const op = 4 * (relation.place + step) + direction + CLOSED
    const known = this.recall(op, one, within)
    if (known !== -1) return known
    const { size } = relation.variables[step]!
    const { order, from } = this.firings(relation, step, direction)
    const base = this.room(size)
    for (let value = 0; value < size; value += 1)
      this.put(base + 2 * value, this.part(one, 2 * value), this.part(one, 2 * value + 1))
    // values whose numbers got less since what leads on from them was last gone along
    const isFresh = new Uint8Array(size).fill(1)
    for (let grows = true; grows;) {
      grows = false
      for (const read of order) {
        if (isFresh[read] === 0) continue
        isFresh[read] = 0
        const open = this.stack[base + 2 * read + 1]!
        if (open === EMPTY) continue
        const source = this.closed(relation, open, this.sets.part(within, read), direction, step + 1)
        this.stack[base + 2 * read + 1] = source
        for (const { put, then } of from[read]!) {
          const all = this.sets.part(within, put)
          if (all === EMPTY) continue
          const led = this.along(then, source, direction, step + 1)
          const plus = this.stack[base + 2 * read]! + this.offset + 1
          const made = this.restrict(led, all)
          if (!this.join(base + 2 * put, plus + this.offset, made)) continue
          isFresh[put] = 1
          grows = true
        }
      }
    }
    return this.keep(op, one, within, 0, this.pop(base, 2 * size))
  }

  /** By the value from which one goes along commands that begin with a variable: to which; and an order in which few have to be gone along again. */
  private firings(relation: Relation, step: number, direction: Direction): Firings {
    const key = 2 * (relation.place + step) + direction
    const known = this.orders.get(key)
    if (known !== undefined) return known
    const { size } = relation.variables[step]!
    const from: Firing[][] = Array.from({ length: size }, () => [])
    for (const { guard, write, then } of relation.edges[step] ?? NO_EDGES)
      for (let value = Math.max(0, guard); value < (guard === -1 ? size : guard + 1); value += 1) {
        const other = write === -1 ? value : write
        const [read, put] = direction === ONWARD ? [value, other] : [other, value]
        from[read]!.push({ put, then })
      }
    const made = { order: onwardFirst(from.map((all) => all.map(({ put }) => put))), from }
    this.orders.set(key, made)
    return made
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
    const least = this.leastIn(one, set)
    return least === NONE ? undefined : least
  }

  private leastIn(one: number, set: number): number {
    if (one === EMPTY || set === EMPTY) return NONE
    if (one === UNIT) return 0
    const known = this.known(LEAST, one, set)
    if (known !== -1) return known
    let least = NONE
    for (let at = 0; at < this.sizeOf(one); at += 2) {
      const plus = this.part(one, at)
      if (plus >= least) continue
      const below = this.leastIn(this.part(one, at + 1), this.sets.part(set, at / 2))
      if (below !== NONE) least = Math.min(least, plus + below)
    }
    return this.remember(LEAST, one, set, least)
  }

  /** The least number of what commands of a relation go from; undefined where they go from nothing that has one. */
  leastBefore(relation: Relation, one: number): number | undefined {
    const least = this.leastBeforeOf(relation, one, 0)
    return least === NONE ? undefined : least
  }

  private leastBeforeOf(relation: Relation, one: number, step: number): number {
    if (one === EMPTY) return NONE
    if (relation.isDone) return 0
    if (step >= relation.end) return NONE
    const op = LEAST_BEFORE - KINDS * relation.number
    const known = this.known(op, step, one)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    let least = NONE
    const hear = (then: Relation, value: number) => {
      const plus = from ? this.part(one, 2 * value) : 0
      if (plus >= least) return
      const below = this.leastBeforeOf(then, from ? this.part(one, 2 * value + 1) : one, step + 1)
      if (below !== NONE) least = Math.min(least, plus + below)
    }
    if (from && to && step + 1 < relation.end) for (let value = 0; value < size; value += 1) hear(relation, value)
    for (const { guard, then } of edges)
      for (let value = Math.max(0, guard); value < (guard === -1 ? (from ? size : 1) : guard + 1); value += 1)
        hear(then, value)
    return this.remember(op, step, one, least)
  }

  /** Those members of a set that have the least number. */
  nearest(one: number, set: number): number {
    const least = this.leastIn(one, set)
    if (least === NONE) return EMPTY
    if (one === UNIT) return UNIT
    const known = this.known(NEAREST, one, set)
    if (known !== -1) return known
    const parts: number[] = []
    for (let at = 0; at < this.sizeOf(one); at += 2) {
      const [child, those] = [this.part(one, at + 1), this.sets.part(set, at / 2)]
      const below = this.leastIn(child, those)
      parts.push(below !== NONE && this.part(one, at) + below === least ? this.nearest(child, those) : EMPTY)
    }
    return this.remember(NEAREST, one, set, this.sets.node(parts))
  }

  /** The least sum of two functions; undefined where nothing has a number in both. */
  leastSum(a: number, b: number): number | undefined {
    const least = this.leastSumOf(a, b)
    return least === NONE ? undefined : least
  }

  private leastSumOf(a: number, b: number): number {
    if (a === EMPTY || b === EMPTY) return NONE
    if (a === UNIT) return 0
    const known = this.known(LEAST_SUM, a, b)
    if (known !== -1) return known
    let least = NONE
    for (let at = 0; at < this.sizeOf(a); at += 2) {
      const plus = this.part(a, at) + this.part(b, at)
      if (plus >= least) continue
      const below = this.leastSumOf(this.part(a, at + 1), this.part(b, at + 1))
      if (below !== NONE) least = Math.min(least, plus + below)
    }
    return this.remember(LEAST_SUM, a, b, least)
  }

  /** What has the least sum. */
  nearestSum(a: number, b: number): number {
    const least = this.leastSumOf(a, b)
    if (least === NONE) return EMPTY
    if (a === UNIT) return UNIT
    const known = this.known(NEAREST_SUM, a, b)
    if (known !== -1) return known
    const parts: number[] = []
    for (let at = 0; at < this.sizeOf(a); at += 2) {
      const below = this.leastSumOf(this.part(a, at + 1), this.part(b, at + 1))
      const isLeast = below !== NONE && this.part(a, at) + this.part(b, at) + below === least
      parts.push(isLeast ? this.nearestSum(this.part(a, at + 1), this.part(b, at + 1)) : EMPTY)
    }
    return this.remember(NEAREST_SUM, a, b, this.sets.node(parts))
  }

  /** Room on the stack for a node with so many parts that have no number for anything. */
  private room(size: number): number {
    const base = this.push(2 * size)
    this.stack.fill(0, base, base + 2 * size)
    return base
  }

  private put(place: number, offset: number, node: number): void {
    this.stack[place] = node === EMPTY ? 0 : offset
    this.stack[place + 1] = node
  }

  /** Makes a function on the stack the lesser of itself and another; says whether it is another one then. */
  private join(place: number, offset: number, node: number): boolean {
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
  private normal(op: number, a: number, b: number, base: number, length: number): number {
    const { stack } = this
    let least = NONE
    for (let at = base; at < base + length; at += 2) if (stack[at + 1] !== EMPTY) least = Math.min(least, stack[at]!)
    if (least === NONE) least = 0
    for (let at = base; at < base + length; at += 2) if (stack[at + 1] !== EMPTY) stack[at]! -= least
    return this.keep(op, a, b, least, this.pop(base, length))
  }

  private recall(op: number, a: number, b: number): number {
    const known = this.known(op, a, b)
    if (known !== -1) this.offset = this.offsets[this.memoPlace(op, a, b) >> 2]!
    return known
  }

  private keep(op: number, a: number, b: number, offset: number, node: number): number {
    this.remember(op, a, b, node)
    if (this.work > this.most || ((this.work & WORK_LOOK) === 0 && this.isOver())) throw new TooMuch()
    if (this.offsets.length !== this.entries) this.offsets = new Int32Array(this.entries)
    this.offsets[this.memoPlace(op, a, b) >> 2] = offset
    this.offset = offset
    return node
  }
}
