import { enlarged } from '../states/lists'
import type { Edge, Relation } from './relation'

/** The empty set, and the set of the one assignment to no variables at all. */
export const EMPTY = 0
export const UNIT = 1

/** There is too much for sets to be put together. */
export class TooMuch extends Error {}

/** Sets beyond which it is. */
const NODES_MAX = 8_000_000
/** Sets that are made between two looks whether there is time and room left, less one. */
const LOOK = 0xffff

export interface DiagramLimits {
  /** How many sets there may be. */
  readonly nodes?: number | undefined
  /** Says that time or memory are used up. */
  readonly isOver?: (() => boolean) | undefined
}

const NO_EDGES: readonly Edge[] = []

const UNION = -1
const MINUS = -2
const BOTH = -3
/** What is done with a relation, beside its number. */
const IMAGE = 0
const PREIMAGE = 1
const CLOSURE = 2

/** Entries of the memory of what was worked out: a later one takes the place of an earlier. It grows with the sets up to the second number. */
const MEMO_LEAST = 2 ** 12
const MEMO_MOST = 2 ** 21

/**
 * Sets of assignments of values to variables as multi-valued decision diagrams, each held once
 * (Bryant: Graph-based algorithms for Boolean function manipulation, 1986; Srinivasan, Kam, Malik, Brayton:
 * Algorithms for discrete function manipulation, 1990). A set is a number. Which variable a diagram
 * begins with is not written down in it: sets are only ever put together that tell the same variables, in the same order.
 * Throws TooMuch where more sets would be needed than there is room for.
 */
export class Diagrams {
  /** By set: where the sets for each value of its first variable begin, and how many they are. */
  private starts = new Int32Array(1024)
  private sizes = new Int32Array(1024)
  private parts = new Int32Array(4096)
  private used = 0
  private count = 2
  /** Open addressing: a set's number, or 0. */
  private table = new Int32Array(4096)
  /** Four numbers an entry: what was done, to what, and what came of it. */
  private memo = new Int32Array(4 * MEMO_LEAST)
  /** Values that are being worked out. */
  private stack = new Int32Array(1024)
  private height = 0
  /** How often sets were put together. */
  work = 0

  private nodesMax: number
  private readonly isOver: () => boolean

  constructor({ nodes = NODES_MAX, isOver = () => false }: DiagramLimits = {}) {
    this.nodesMax = nodes
    this.isOver = isOver
  }

  /** Puts together what has to be told and needs little, a route for example, however many sets there are already. */
  withRoom<T>(work: () => T): T {
    const { nodesMax } = this
    this.nodesMax = Infinity
    try {
      return work()
    } finally {
      this.nodesMax = nodesMax
    }
  }

  /** How many sets are held, parts of others among them. */
  get nodes(): number {
    return this.count
  }

  get bytes(): number {
    return (
      4 *
      (this.starts.length +
        this.sizes.length +
        this.parts.length +
        this.table.length +
        this.stack.length +
        this.memo.length)
    )
  }

  /** The set for one value of the first variable. */
  part(set: number, value: number): number {
    return this.parts[this.starts[set]! + value]!
  }

  /** How many values the first variable of a set has; 0 for none. */
  sizeOf(set: number): number {
    return this.sizes[set]!
  }

  union(a: number, b: number): number {
    if (a === b || b === EMPTY) return a
    if (a === EMPTY) return b
    return a < b ? this.combined(UNION, a, b) : this.combined(UNION, b, a)
  }

  minus(a: number, b: number): number {
    if (a === b) return EMPTY
    return a === EMPTY || b === EMPTY ? a : this.combined(MINUS, a, b)
  }

  both(a: number, b: number): number {
    if (a === b) return a
    if (a === EMPTY || b === EMPTY) return EMPTY
    return a < b ? this.combined(BOTH, a, b) : this.combined(BOTH, b, a)
  }

  private combined(op: number, a: number, b: number): number {
    const known = this.known(op, a, b)
    if (known !== -1) return known
    const size = this.sizes[a]!
    const base = this.push(size)
    for (let value = 0; value < size; value += 1) {
      const [left, right] = [this.part(a, value), this.part(b, value)]
      const made =
        op === UNION ? this.union(left, right) : op === MINUS ? this.minus(left, right) : this.both(left, right)
      this.stack[base + value] = made
    }
    return this.remember(op, a, b, this.pop(base, size))
  }

  /** Where a relation leads from the members of a set. */
  image(relation: Relation, set: number, step = 0): number {
    if (set === EMPTY) return EMPTY
    const same = relation.isDone ? set : EMPTY
    return step < relation.end ? this.union(same, this.imageFrom(relation, set, step)) : same
  }

  /** The same of those commands that do something from a step on. */
  private imageFrom(relation: Relation, set: number, step: number): number {
    const op = 4 * relation.number + IMAGE
    const known = this.known(op, step, set)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    let made: number
    if (from && !to) {
      made = EMPTY
      for (const { guard, then } of edges)
        for (let value = Math.max(0, guard); value < (guard === -1 ? size : guard + 1); value += 1)
          made = this.union(made, this.image(then, this.part(set, value), step + 1))
    } else {
      const base = this.push(size)
      this.stack.fill(EMPTY, base, base + size)
      if (from && step + 1 < relation.end)
        for (let value = 0; value < size; value += 1) {
          const child = this.part(set, value)
          const made = child === EMPTY ? EMPTY : this.imageFrom(relation, child, step + 1)
          this.stack[base + value] = made
        }
      for (const { guard, write, then } of edges) {
        if (!from) this.join(base + write, this.image(then, set, step + 1))
        else if (guard !== -1)
          this.join(base + (write === -1 ? guard : write), this.image(then, this.part(set, guard), step + 1))
        else
          for (let value = 0; value < size; value += 1)
            this.join(base + (write === -1 ? value : write), this.image(then, this.part(set, value), step + 1))
      }
      made = this.pop(base, size)
    }
    return this.remember(op, step, set, made)
  }

  /** From where a relation leads to members of a set. */
  preimage(relation: Relation, set: number, step = 0): number {
    if (set === EMPTY) return EMPTY
    const same = relation.isDone ? set : EMPTY
    return step < relation.end ? this.union(same, this.preimageFrom(relation, set, step)) : same
  }

  private preimageFrom(relation: Relation, set: number, step: number): number {
    const op = 4 * relation.number + PREIMAGE
    const known = this.known(op, step, set)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    let made: number
    if (!from) {
      made = EMPTY
      for (const { write, then } of edges) made = this.union(made, this.preimage(then, this.part(set, write), step + 1))
    } else {
      const base = this.push(size)
      this.stack.fill(EMPTY, base, base + size)
      if (to && step + 1 < relation.end)
        for (let value = 0; value < size; value += 1) {
          const child = this.part(set, value)
          const made = child === EMPTY ? EMPTY : this.preimageFrom(relation, child, step + 1)
          this.stack[base + value] = made
        }
      for (const { guard, write, then } of edges)
        for (let value = Math.max(0, guard); value < (guard === -1 ? size : guard + 1); value += 1) {
          const target = to ? this.part(set, write === -1 ? value : write) : set
          this.join(base + value, this.preimage(then, target, step + 1))
        }
      made = this.pop(base, size)
    }
    return this.remember(op, step, set, made)
  }

  /**
   * The members of a set and all others of `within` from which a relation leads to them by members of it, by however many
   * commands; all variables are told at both ends. Commands that begin with a variable are applied to what is closed under
   * those that begin further down (saturation; Ciardo, Lüttgen, Siminiceanu: Saturation: an efficient iteration strategy for
   * symbolic state-space generation, 2001).
   */
  closureBefore(relation: Relation, set: number, within: number, step = 0): number {
    if (set === EMPTY || set === within || step >= relation.end) return set
    const op = 4 * (relation.place + step) + CLOSURE
    const known = this.known(op, set, within)
    if (known !== -1) return known
    const { size } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    const base = this.push(size)
    this.stack.fill(EMPTY, base, base + size)
    for (let value = 0; value < size; value += 1) {
      const closed = this.closureBefore(relation, this.part(set, value), this.part(within, value), step + 1)
      this.stack[base + value] = closed
    }
    for (let grows = true; grows;) {
      grows = false
      for (const { guard, write, then } of edges)
        for (let value = Math.max(0, guard); value < (guard === -1 ? size : guard + 1); value += 1) {
          const old = this.stack[base + value]!
          const all = this.part(within, value)
          if (old === all) continue
          const target = this.stack[base + (write === -1 ? value : write)]!
          const more = this.union(old, this.both(this.preimage(then, target, step + 1), all))
          if (more === old) continue
          const closed = this.closureBefore(relation, more, all, step + 1)
          this.stack[base + value] = closed
          grows = true
        }
    }
    return this.remember(op, set, within, this.pop(base, size))
  }

  /** Adds a set to one on the stack. */
  private join(place: number, set: number): void {
    const made = this.union(this.stack[place]!, set)
    this.stack[place] = made
  }

  /** One member of a set that has some, as the values of its variables in order. */
  pick(set: number): number[] {
    const values: number[] = []
    for (let at = set; at !== UNIT;) {
      let value = 0
      while (this.part(at, value) === EMPTY) value += 1
      values.push(value)
      at = this.part(at, value)
    }
    return values
  }

  /** The set of one member; `sizes` says how many values each variable has. */
  single(values: readonly number[], sizes: readonly number[]): number {
    let set = UNIT
    for (let at = values.length - 1; at >= 0; at -= 1) set = this.only(sizes[at]!, values[at]!, set)
    return set
  }

  /** The set of all assignments; `sizes` says how many values each variable has. */
  any(sizes: readonly number[]): number {
    let set = UNIT
    for (let at = sizes.length - 1; at >= 0; at -= 1) {
      const size = sizes[at]!
      const base = this.push(size)
      this.stack.fill(set, base, base + size)
      set = this.pop(base, size)
    }
    return set
  }

  /** The values that each variable has in some member. */
  valuesIn(set: number): Set<number>[] {
    const found: Set<number>[] = []
    for (let level = new Set([set]); level.size > 0 && !level.has(UNIT);) {
      const values = new Set<number>()
      const next = new Set<number>()
      for (const one of level) {
        for (let value = 0; value < this.sizes[one]!; value += 1) {
          if (this.part(one, value) === EMPTY) continue
          values.add(value)
          next.add(this.part(one, value))
        }
      }
      found.push(values)
      level = next
    }
    return found
  }

  /** How many members a set has. */
  members(set: number, known = new Map<number, number>()): number {
    if (set <= UNIT) return set
    let count = known.get(set)
    if (count !== undefined) return count
    count = 0
    for (let value = 0; value < this.sizes[set]!; value += 1) count += this.members(this.part(set, value), known)
    known.set(set, count)
    return count
  }

  /** A variable that must have one value, before a set. */
  private only(size: number, value: number, set: number): number {
    if (set === EMPTY) return EMPTY
    const base = this.push(size)
    this.stack.fill(EMPTY, base, base + size)
    this.stack[base + value] = set
    return this.pop(base, size)
  }

  private push(size: number): number {
    const base = this.height
    this.height += size
    if (this.height > this.stack.length) this.stack = enlarged(this.stack, this.height)
    return base
  }

  /** The set whose parts are the last `size` on the stack, which are taken off. */
  private pop(base: number, size: number): number {
    this.height = base
    const { stack, parts, starts, sizes } = this
    let mixed = size
    let isEmpty = true
    for (let at = base; at < base + size; at += 1) {
      if (stack[at] !== EMPTY) isEmpty = false
      mixed = Math.imul(mixed ^ stack[at]!, 0x85ebca6b)
      mixed ^= mixed >>> 15
    }
    if (isEmpty) return EMPTY
    if (2 * this.count > this.table.length) this.growTable()
    const { table } = this
    const mask = table.length - 1
    let place = mixed & mask
    for (let set = table[place]!; set !== 0; set = table[place]!) {
      if (sizes[set] === size) {
        const start = starts[set]!
        let at = 0
        while (at < size && parts[start + at] === stack[base + at]) at += 1
        if (at === size) return set
      }
      place = (place + 1) & mask
    }
    if (this.count >= this.nodesMax || ((this.count & LOOK) === 0 && this.isOver())) throw new TooMuch()
    const set = this.count
    this.count += 1
    if (set >= this.starts.length) {
      this.starts = enlarged(this.starts, set + 1)
      this.sizes = enlarged(this.sizes, set + 1)
    }
    if (this.used + size > this.parts.length) this.parts = enlarged(this.parts, this.used + size)
    this.starts[set] = this.used
    this.sizes[set] = size
    this.parts.set(stack.subarray(base, base + size), this.used)
    this.used += size
    table[place] = set
    return set
  }

  private growTable(): void {
    const table = new Int32Array(4 * this.table.length)
    const mask = table.length - 1
    for (let set = 2; set < this.count; set += 1) {
      let mixed = this.sizes[set]!
      for (let at = this.starts[set]!; at < this.starts[set]! + this.sizes[set]!; at += 1) {
        mixed = Math.imul(mixed ^ this.parts[at]!, 0x85ebca6b)
        mixed ^= mixed >>> 15
      }
      let place = mixed & mask
      while (table[place] !== 0) place = (place + 1) & mask
      table[place] = set
    }
    this.table = table
  }

  private memoPlace(op: number, a: number, b: number): number {
    let mixed = Math.imul(op, 0x9e3779b1) ^ Math.imul(a, 0x85ebca6b) ^ Math.imul(b, 0xc2b2ae35)
    mixed ^= mixed >>> 15
    mixed = Math.imul(mixed, 0x2c1b3c6d)
    return ((mixed ^ (mixed >>> 13)) << 2) & (this.memo.length - 1)
  }

  private known(op: number, a: number, b: number): number {
    const { memo } = this
    const place = this.memoPlace(op, a, b)
    return memo[place] === op && memo[place + 1] === a && memo[place + 2] === b ? memo[place + 3]! : -1
  }

  private remember(op: number, a: number, b: number, value: number): number {
    this.work += 1
    if (4 * this.count > this.memo.length && this.memo.length < 4 * MEMO_MOST)
      this.memo = new Int32Array(4 * this.memo.length)
    const { memo } = this
    const place = this.memoPlace(op, a, b)
    memo[place] = op
    memo[place + 1] = a
    memo[place + 2] = b
    memo[place + 3] = value
    return value
  }
}
