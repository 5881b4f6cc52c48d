import type { Slices } from '../../../base/slices'
import { EMPTY, NodeTable, UNIT } from './node-table'
import { becomes, type Edge, type Relation } from './relation'

const NO_EDGES: readonly Edge[] = []

const UNION = -1
const MINUS = -2
const BOTH = -3
const IMAGE = 0
const PREIMAGE = 1
const CLOSURE = 2
const LEADS = 3

/** In the place of a set: all that there can be. */
export const ANYTHING = -1

/** What is done with a relation, as a number; from which step on is told by the sets that it is done with, as those hold what is left. */
function operation(kind: number, relation: Relation): number {
  return 4 * relation.number + kind
}

/**
 * Sets of assignments of values to variables as multi-valued decision diagrams, each held once
 * (Bryant: Graph-based algorithms for Boolean function manipulation, 1986; Srinivasan, Kam, Malik, Brayton:
 * Algorithms for discrete function manipulation, 1990). A set is a number. Which variable a diagram
 * begins with is not written down in it: sets are only ever put together that tell the same variables, in the same order.
 * Throws TooMuch where more sets would be needed than there is room for.
 */
export class Diagrams extends NodeTable {
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
    const op = operation(IMAGE, relation)
    const known = this.known(op, set, 0)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    let made: number
    if (from && !to) {
      made = EMPTY
      for (const { first, last, then } of edges)
        for (let value = first; value <= last; value += 1)
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
      for (const edge of edges) {
        const { first, last, then } = edge
        for (let value = first; value <= last; value += 1)
          this.join(base + becomes(edge, value), this.image(then, from ? this.part(set, value) : set, step + 1))
      }
      made = this.pop(base, size)
    }
    return this.remember(op, set, 0, made)
  }

  /** Whether a relation leads from some member of a set to some of others, or to any; far less is looked at than to tell where it leads. */
  leads(relation: Relation, set: number, others: number, step = 0): boolean {
    if (set === EMPTY || others === EMPTY) return false
    if (relation.isDone && (others === ANYTHING || this.both(set, others) !== EMPTY)) return true
    return step < relation.end && this.leadsFrom(relation, set, others, step)
  }

  /** The same of those commands that do something from a step on. */
  private leadsFrom(relation: Relation, set: number, others: number, step: number): boolean {
    const op = operation(LEADS, relation)
    const known = this.known(op, set, others)
    if (known !== -1) return known === 1
    return this.remember(op, set, others, this.isLed(relation, set, others, step) ? 1 : 0) === 1
  }

  private isLed(relation: Relation, set: number, others: number, step: number): boolean {
    const { size, from, to } = relation.variables[step]!
    const target = (value: number) => (to && others !== ANYTHING ? this.part(others, value) : others)
    for (const edge of relation.edges[step] ?? NO_EDGES) {
      const { first, last, then } = edge
      for (let value = first; value <= last; value += 1)
        if (this.leads(then, from ? this.part(set, value) : set, target(becomes(edge, value)), step + 1)) return true
    }
    if (from && to && step + 1 < relation.end)
      for (let value = 0; value < size; value += 1) {
        const [child, all] = [this.part(set, value), target(value)]
        if (child !== EMPTY && all !== EMPTY && this.leadsFrom(relation, child, all, step + 1)) return true
      }
    return false
  }

  /** The members of `within` from which a relation leads to members of a set; looked for there alone, as all of them can be far more. */
  preimage(relation: Relation, set: number, within: number, step = 0): number {
    if (set === EMPTY || within === EMPTY) return EMPTY
    const same = relation.isDone ? this.both(set, within) : EMPTY
    return step < relation.end ? this.union(same, this.preimageFrom(relation, set, within, step)) : same
  }

  private preimageFrom(relation: Relation, set: number, within: number, step: number): number {
    const op = operation(PREIMAGE, relation)
    const known = this.known(op, set, within)
    if (known !== -1) return known
    const { size, from, to } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    let made: number
    if (!from) {
      made = EMPTY
      for (const { write, then } of edges)
        made = this.union(made, this.preimage(then, this.part(set, write), within, step + 1))
    } else {
      const base = this.push(size)
      this.stack.fill(EMPTY, base, base + size)
      if (to && step + 1 < relation.end)
        for (let value = 0; value < size; value += 1) {
          const [child, all] = [this.part(set, value), this.part(within, value)]
          const isNone = child === EMPTY || all === EMPTY
          const made = isNone ? EMPTY : this.preimageFrom(relation, child, all, step + 1)
          this.stack[base + value] = made
        }
      for (const edge of edges) {
        const { first, last, then } = edge
        for (let value = first; value <= last; value += 1) {
          const target = to ? this.part(set, becomes(edge, value)) : set
          this.join(base + value, this.preimage(then, target, this.part(within, value), step + 1))
        }
      }
      made = this.pop(base, size)
    }
    return this.remember(op, set, within, made)
  }

  /**
   * The members of a set and all others of `within` from which a relation leads to them by members of it, by however many
   * commands; all variables are told at both ends. Commands that begin with a variable are applied to what is closed under
   * those that begin further down (saturation; Ciardo, Lüttgen, Siminiceanu: Saturation: an efficient iteration strategy for
   * symbolic state-space generation, 2001).
   */
  *closureBefore(relation: Relation, set: number, within: number, step = 0): Slices<number> {
    const known = this.closedBefore(relation, set, within, step)
    if (known !== -1) return known
    const { size } = relation.variables[step]!
    const edges = relation.edges[step] ?? NO_EDGES
    const base = this.push(size)
    this.stack.fill(EMPTY, base, base + size)
    for (let value = 0; value < size; value += 1) {
      const closed = yield* this.closureBefore(relation, this.part(set, value), this.part(within, value), step + 1)
      this.stack[base + value] = closed
    }
    for (let grows = true; grows;) {
      if (this.isTurnOver()) yield
      grows = false
      for (const edge of edges) {
        const { first, last, then } = edge
        for (let value = first; value <= last; value += 1) {
          const old = this.stack[base + value]!
          const all = this.part(within, value)
          if (old === all) continue
          const target = this.stack[base + becomes(edge, value)]!
          // further down it is small
          const before =
            step === 0
              ? yield* this.inTurns(() => this.preimage(then, target, all, 1))
              : this.preimage(then, target, all, step + 1)
          const more = this.union(old, before)
          if (more === old) continue
          const closed = yield* this.closureBefore(relation, more, all, step + 1)
          this.stack[base + value] = closed
          grows = true
        }
      }
    }
    return this.remember(operation(CLOSURE, relation), set, within, this.pop(base, size))
  }

  /** The same where it is known; else -1. */
  private closedBefore(relation: Relation, set: number, within: number, step: number): number {
    return set === EMPTY || set === within || step >= relation.end
      ? set
      : this.known(operation(CLOSURE, relation), set, within)
  }

  /** Adds a set to one on the stack. */
  private join(place: number, set: number): void {
    const made = this.union(this.stack[place]!, set)
    this.stack[place] = made
  }

  /** The set with some sets for the values of its first variable. */
  node(parts: readonly number[]): number {
    const base = this.push(parts.length)
    parts.forEach((part, value) => {
      this.stack[base + value] = part
    })
    return this.pop(base, parts.length)
  }

  /** Whether some values of its variables, in order, are a member of a set. */
  has(set: number, values: readonly number[]): boolean {
    let at = set
    for (const value of values) {
      if (at === EMPTY || value < 0 || value >= this.sizeOf(at)) return false
      at = this.part(at, value)
    }
    return at === UNIT
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
}
