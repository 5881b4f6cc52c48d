import type { Finding } from '../core/survey/findings/finding'
import type { SplicedFindings } from './protocol'

/** What is to be put in the place of which findings to get from some to others. */
export function spliced(before: readonly Finding[], after: readonly Finding[]): SplicedFindings {
  const most = Math.min(before.length, after.length)
  let first = 0
  while (first < most && isSame(before[first]!, after[first]!)) first += 1
  let last = 0
  while (last < most - first && isSame(before[before.length - 1 - last]!, after[after.length - 1 - last]!)) last += 1
  return { first, between: after.slice(first, after.length - last), last }
}

/** The findings after it; the same list where nothing has changed. */
export function splice(before: readonly Finding[], { first, between, last }: SplicedFindings): readonly Finding[] {
  if (between.length === 0 && first + last === before.length) return before
  return [...before.slice(0, first), ...between, ...before.slice(before.length - last)]
}

function isSame(a: Finding, b: Finding): boolean {
  if (a === b) return true
  return (
    a.kind === b.kind &&
    a.decisions === b.decisions &&
    a.key.length === b.key.length &&
    a.key.every((part, at) => part === b.key[at]) &&
    a.message === b.message &&
    a.level === b.level
  )
}
