/** Some items of a list have come in the place of others: the first `first` and the last `last` stay. */
export interface Spliced<T> {
  readonly first: number
  readonly between: readonly T[]
  readonly last: number
}

/** What is to be put in the place of which items to get from some to others. */
export function spliced<T>(
  before: readonly T[],
  after: readonly T[],
  same: (one: T, other: T) => boolean = Object.is,
): Spliced<T> {
  const most = Math.min(before.length, after.length)
  let first = 0
  while (first < most && same(before[first]!, after[first]!)) first += 1
  let last = 0
  while (last < most - first && same(before[before.length - 1 - last]!, after[after.length - 1 - last]!)) last += 1
  return { first, between: after.slice(first, after.length - last), last }
}

/** The items after it; the same list where nothing has changed. */
export function splice<T>(before: readonly T[], { first, between, last }: Spliced<T>): readonly T[] {
  if (between.length === 0 && first + last === before.length) return before
  return [...before.slice(0, first), ...between, ...before.slice(before.length - last)]
}
