import { fail, ok, type Result } from '../../base/result'
import { isSame } from '../../base/same'

/** Two changes of one part that can't be put together. */
export interface Clash {
  /** Where, from the object that both changed: `lines.2.text`. */
  readonly where: string
  readonly mine: unknown
  readonly theirs: unknown
}

const ABSENT = Symbol('absent')

/**
 * Puts two changes of one JSON value together (three-way merge): a part that one of them left as it was in `base` takes
 * what the other made of it. Items of lists belong together by their id, else by being the same, else by their order
 * between two that are; what both put in at one spot stands one after the other. A part that both changed, each in
 * another way, or that one changed and the other took away, is a clash.
 */
export function merge<T>(base: T, mine: T, theirs: T): Result<T, Clash> {
  return mergeValue(base, mine, theirs, '') as Result<T, Clash>
}

function mergeValue(base: unknown, mine: unknown, theirs: unknown, where: string): Result<unknown, Clash> {
  if (isSame(base, mine) || isSame(mine, theirs)) return ok(theirs)
  if (isSame(base, theirs)) return ok(mine)
  if (isList(base) && isList(mine) && isList(theirs)) return mergeLists(base, mine, theirs, where)
  if (isObject(base) && isObject(mine) && isObject(theirs)) return mergeObjects(base, mine, theirs, where)
  return fail({ where, mine: shown(mine), theirs: shown(theirs) })
}

type Keyed = Readonly<Record<string, unknown>>

function mergeObjects(base: Keyed, mine: Keyed, theirs: Keyed, where: string): Result<unknown, Clash> {
  const entries: [string, unknown][] = []
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const merged = mergeValue(own(base, key), own(mine, key), own(theirs, key), where === '' ? key : `${where}.${key}`)
    if (!merged.ok) return merged
    if (merged.value !== ABSENT) entries.push([key, merged.value])
  }
  return ok(Object.fromEntries(entries))
}

function own(object: Keyed, key: string): unknown {
  return Object.hasOwn(object, key) && object[key] !== undefined ? object[key] : ABSENT
}

function mergeLists(
  base: readonly unknown[],
  mine: readonly unknown[],
  theirs: readonly unknown[],
  where: string,
): Result<unknown, Clash> {
  const inMine = counterparts(base, mine)
  const inTheirs = counterparts(base, theirs)
  if (isReordered(inMine)) return mergeOrder(base, mine, inMine, theirs, inTheirs, where, false)
  if (isReordered(inTheirs)) return mergeOrder(base, theirs, inTheirs, mine, inMine, where, true)
  const merged: unknown[] = []
  let nextMine = 0
  let nextTheirs = 0
  for (const [at, item] of base.entries()) {
    const mineAt = inMine[at]!
    const theirsAt = inTheirs[at]!
    // what was put in before this item
    while (theirsAt !== -1 && nextTheirs < theirsAt) merged.push(theirs[nextTheirs++])
    while (mineAt !== -1 && nextMine < mineAt) merged.push(mine[nextMine++])
    const one = mergeValue(
      item,
      mineAt === -1 ? ABSENT : mine[mineAt],
      theirsAt === -1 ? ABSENT : theirs[theirsAt],
      `${where}.${at}`,
    )
    if (!one.ok) return one
    if (one.value !== ABSENT) merged.push(one.value)
    if (mineAt !== -1) nextMine = mineAt + 1
    if (theirsAt !== -1) nextTheirs = theirsAt + 1
  }
  return ok([...merged, ...theirs.slice(nextTheirs), ...mine.slice(nextMine)])
}

/** One of the two has put the list into another order: its order holds, unless the other did more than change items. */
function mergeOrder(
  base: readonly unknown[],
  ordered: readonly unknown[],
  inOrdered: readonly number[],
  other: readonly unknown[],
  inOther: readonly number[],
  where: string,
  isTheirs: boolean,
): Result<unknown, Clash> {
  if (isReordered(inOther) || new Set(inOther.filter((to) => to !== -1)).size < other.length)
    return fail({ where, mine: isTheirs ? other : ordered, theirs: isTheirs ? ordered : other })
  const merged: unknown[] = []
  const baseOf = new Map(inOrdered.map((to, at) => [to, at]))
  for (const [to, item] of ordered.entries()) {
    const at = baseOf.get(to)
    const otherAt = at === undefined ? -1 : inOther[at]!
    const theOther = otherAt === -1 ? ABSENT : other[otherAt]
    const one =
      at === undefined
        ? ok(item)
        : mergeValue(base[at], isTheirs ? theOther : item, isTheirs ? item : theOther, `${where}.${at}`)
    if (!one.ok) return one
    if (one.value !== ABSENT) merged.push(one.value)
  }
  for (const [at, to] of inOrdered.entries()) {
    const otherAt = inOther[at]!
    if (to === -1 && otherAt !== -1 && !isSame(base[at], other[otherAt]))
      return fail({
        where: `${where}.${at}`,
        mine: isTheirs ? other[otherAt] : undefined,
        theirs: isTheirs ? undefined : other[otherAt],
      })
  }
  return ok(merged)
}

/** For each item of `base` where it stands in `next`; -1 where it is gone. */
export function counterparts(base: readonly unknown[], next: readonly unknown[]): number[] {
  const found = new Array<number>(base.length).fill(-1)
  const free = new Set(next.keys())
  const pair = (at: number, to: number) => {
    found[at] = to
    free.delete(to)
  }
  for (const [at, item] of base.entries()) {
    const id = idOf(item)
    if (id === undefined) continue
    for (const to of free)
      if (idOf(next[to]) === id) {
        pair(at, to)
        break
      }
  }
  for (const [at, to] of commonItems(base, next)) if (found[at] === -1 && free.has(to)) pair(at, to)
  // between two that are found, those without an id belong together in their order
  let from = 0
  for (let at = 0; at < base.length; at += 1) {
    if (found[at] !== -1) {
      from = Math.max(from, found[at]! + 1)
      continue
    }
    if (idOf(base[at]) !== undefined) continue
    const end = found.slice(at).find((to) => to !== -1) ?? next.length
    if (from < end && free.has(from) && idOf(next[from]) === undefined) pair(at, from++)
  }
  return found
}

/** Pairs of the longest common subsequence of two lists, by being the same (dynamic programming, Wagner and Fischer 1974). */
function commonItems(base: readonly unknown[], next: readonly unknown[]): [number, number][] {
  let start = 0
  while (start < base.length && start < next.length && isSame(base[start], next[start])) start += 1
  let end = 0
  while (
    end < base.length - start &&
    end < next.length - start &&
    isSame(base[base.length - 1 - end], next[next.length - 1 - end])
  )
    end += 1
  const pairs: [number, number][] = []
  for (let at = 0; at < start; at += 1) pairs.push([at, at])
  for (let back = 1; back <= end; back += 1) pairs.push([base.length - back, next.length - back])
  const rows = base.length - start - end
  const columns = next.length - start - end
  if (rows * columns > COMMON_MAX) return pairs
  const lengths = Array.from({ length: rows + 1 }, () => new Uint32Array(columns + 1))
  for (let row = rows - 1; row >= 0; row -= 1)
    for (let column = columns - 1; column >= 0; column -= 1)
      lengths[row]![column] = isSame(base[start + row], next[start + column])
        ? lengths[row + 1]![column + 1]! + 1
        : Math.max(lengths[row + 1]![column]!, lengths[row]![column + 1]!)
  for (let row = 0, column = 0; row < rows && column < columns;) {
    if (isSame(base[start + row], next[start + column])) pairs.push([start + row++, start + column++])
    else if (lengths[row + 1]![column]! >= lengths[row]![column + 1]!) row += 1
    else column += 1
  }
  return pairs
}

/** Most comparisons of items that are worth finding the best pairs; past it only beginnings and ends are paired. */
const COMMON_MAX = 250_000

function isReordered(found: readonly number[]): boolean {
  const kept = found.filter((to) => to !== -1)
  return kept.some((to, index) => index > 0 && to < kept[index - 1]!)
}

function idOf(item: unknown): string | undefined {
  const id = isObject(item) ? item.id : undefined
  return typeof id === 'string' ? id : undefined
}

function isList(value: unknown): value is readonly unknown[] {
  return Array.isArray(value)
}

function isObject(value: unknown): value is Keyed {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function shown(value: unknown): unknown {
  return value === ABSENT ? undefined : value
}
