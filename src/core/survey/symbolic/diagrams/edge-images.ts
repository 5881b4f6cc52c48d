import type { Slices } from '../../../base/slices'
import { Worklist } from '../../analysis/worklist'
import { EdgeValues, KINDS, LEAST_BEFORE, NONE, told, type Valued } from './edge-values'
import { EMPTY, UNIT } from './node-table'
import { becomes, type Edge, type Relation } from './relation'

const NO_EDGES: readonly Edge[] = []

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
  readonly order: Int32Array
  readonly from: readonly (readonly Firing[])[]
}

/** An order of the nodes of a graph in which each comes before those to which it leads, but for circles: from what a search in depth leaves last to what it leaves first. */
function onwardFirst(to: readonly (readonly number[])[]): Int32Array {
  const left: number[] = []
  const seen = new Set<number>()
  const visit = (node: number) => {
    if (seen.has(node)) return
    seen.add(node)
    for (const next of to[node]!) visit(next)
    left.push(node)
  }
  for (const node of to.keys()) visit(node)
  return Int32Array.from(left.reverse())
}

/** The one value of one variable that commands ask for which do nothing else, where all of them do; `at` is the place of the variable. */
function onlyGuard({
  edges,
  end,
  isDone,
  variables,
}: Relation): { readonly at: number; readonly guard: number } | undefined {
  const own = edges[end - 1]
  const [edge] = own ?? []
  if (isDone || own?.length !== 1 || edges.some((one) => one !== undefined && one !== own)) return undefined
  const { first, last, write, by, then } = edge!
  const isAlone = first === last && write === -1 && by === 0 && then.isDone && then.end === 0
  return isAlone && variables.every(({ from, to }) => from && to) ? { at: end - 1, guard: first } : undefined
}

/** What is done where a function is closed under a relation; from which step on is told by the function, as it holds what is left. */
function closing(relation: Relation, direction: Direction): number {
  return 4 * relation.number + direction + CLOSED
}

/** Functions as edge-valued diagrams, and what relations make of them. Throws TooMuch. */
export class EdgeImages extends EdgeValues {
  /** By relation and direction, and by variable. */
  private readonly orders = new Map<number, (Firings | undefined)[]>()
  /** By function, variable and value: the least number of what has that value. */
  private readonly leastByValue = new Map<number, readonly ReadonlyMap<number, number>[]>()

  /** What commands of a relation make of a function; nothing is added for them. */
  led(relation: Relation, { node, offset }: Valued, direction: Direction): Valued {
    const made = this.along(relation, node, direction)
    return { node: made, offset: offset + this.offset }
  }

  /** The same of a node. */
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
    const known = this.recall(op, one, 0)
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
    for (const edge of relation.edges[step] ?? NO_EDGES) {
      const { first, last, then } = edge
      for (let value = first; value <= last; value += 1) {
        const other = becomes(edge, value)
        const [read, put] = direction === ONWARD ? [value, other] : [other, value]
        const plus = reads ? this.part(one, 2 * read) : 0
        const made = this.along(then, reads ? this.part(one, 2 * read + 1) : one, direction, step + 1)
        this.join(base + (puts ? 2 * put : 0), plus + this.offset, made)
      }
    }
    if (puts) return this.normal(op, one, 0, base, length)
    this.height = base
    return this.keep(op, one, 0, this.stack[base]!, this.stack[base + 1]!)
  }

  /**
   * The least numbers, where each command adds 1, of what commands lead to by members of `within` alone; to that the function belongs,
   * and all variables are told at both ends. By saturation, as sets are closed.
   */
  *closed(relation: Relation, one: number, within: number, direction: Direction, step = 0): Slices<number> {
    const known = this.closedBefore(relation, one, within, direction, step)
    if (known !== -1) return known
    const { size } = relation.variables[step]!
    const { order, from } = this.firings(relation, step, direction)
    const base = this.room(size)
    for (let value = 0; value < size; value += 1)
      this.put(base + 2 * value, this.part(one, 2 * value), this.part(one, 2 * value + 1))
    // values whose numbers got less since what leads on from them was last gone along
    const fresh = new Worklist(order)
    fresh.addAll()
    for (let read = fresh.take(); read !== -1; read = fresh.take()) {
      if (this.isTurnOver()) yield
      const open = this.stack[base + 2 * read + 1]!
      if (open === EMPTY) continue
      const inside = this.sets.part(within, read)
      const known = this.closedBefore(relation, open, inside, direction, step + 1)
      const source = known === -1 ? yield* this.closed(relation, open, inside, direction, step + 1) : known
      this.stack[base + 2 * read + 1] = source
      for (const { put, then } of from[read]!) {
        const all = this.sets.part(within, put)
        if (all === EMPTY) continue
        const led = this.along(then, source, direction, step + 1)
        const plus = this.stack[base + 2 * read]! + this.offset + 1
        const made = this.restrict(led, all)
        if (this.join(base + 2 * put, plus + this.offset, made)) fresh.add(put)
      }
    }
    return this.keep(closing(relation, direction), one, within, 0, this.pop(base, 2 * size))
  }

  /** The same where it is known; else -1. */
  private closedBefore(relation: Relation, one: number, within: number, direction: Direction, step: number): number {
    this.offset = 0
    if (one === EMPTY || step >= relation.end) return one
    return this.recall(closing(relation, direction), one, within)
  }

  /** By the value from which one goes along commands that begin with a variable: to which; and an order in which few have to be gone along again. */
  private firings(relation: Relation, step: number, direction: Direction): Firings {
    const key = 2 * relation.number + direction
    let orders = this.orders.get(key)
    if (orders === undefined) this.orders.set(key, (orders = []))
    const known = orders[step]
    if (known !== undefined) return known
    const { size } = relation.variables[step]!
    const from: Firing[][] = Array.from({ length: size }, () => [])
    for (const edge of relation.edges[step] ?? NO_EDGES) {
      const { first, last, then } = edge
      for (let value = first; value <= last; value += 1) {
        const other = becomes(edge, value)
        const [read, put] = direction === ONWARD ? [value, other] : [other, value]
        from[read]!.push({ put, then })
      }
    }
    const made = { order: onwardFirst(from.map((all) => all.map(({ put }) => put))), from }
    orders[step] = made
    return made
  }

  /** From level to level, as the least number of each node is 0. */
  private leastByValues(one: number): Map<number, number>[] {
    const found: Map<number, number>[] = []
    for (let level = new Map([[one, 0]]); level.size > 0 && !level.has(UNIT) && !level.has(EMPTY);) {
      const least = new Map<number, number>()
      const next = new Map<number, number>()
      const lower = (to: Map<number, number>, key: number, number: number) =>
        void (number < (to.get(key) ?? NONE) && to.set(key, number))
      for (const [node, before] of level)
        for (let at = 0; at < this.sizeOf(node); at += 2) {
          const child = this.part(node, at + 1)
          if (child === EMPTY) continue
          lower(least, at / 2, before + this.part(node, at))
          lower(next, child, before + this.part(node, at))
        }
      found.push(least)
      level = next
    }
    return found
  }

  /** The least number of what commands of a relation go from; undefined where they go from nothing that has one. */
  leastBefore(relation: Relation, one: number): number | undefined {
    const only = onlyGuard(relation)
    if (only === undefined) return told(this.leastBeforeOf(relation, one, 0))
    const least = this.leastByValue.get(one) ?? this.leastByValues(one)
    this.leastByValue.set(one, least)
    return least[only.at]?.get(only.guard)
  }

  private leastBeforeOf(relation: Relation, one: number, step: number): number {
    if (one === EMPTY) return NONE
    if (relation.isDone) return 0
    if (step >= relation.end) return NONE
    const op = LEAST_BEFORE - KINDS * relation.number
    const known = this.known(op, one, 0)
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
    for (const { first, last, then } of edges) for (let value = first; value <= last; value += 1) hear(then, value)
    return this.remember(op, one, 0, least)
  }
}
