/** Whether two JSON values are the same; the order of an object's keys does not count, a key without a value is none. */
export function isSame(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a) || Array.isArray(b)) {
    if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false
    return a.every((item, index) => isSame(item, b[index]))
  }
  const left = Object.entries(a).filter(([, value]) => value !== undefined)
  const right = Object.entries(b).filter(([, value]) => value !== undefined)
  if (left.length !== right.length) return false
  return left.every(([key, value]) => Object.hasOwn(b, key) && isSame(value, (b as Record<string, unknown>)[key]))
}

export function sameNumbers(a: readonly number[], b: readonly number[]): boolean {
  return a.length === b.length && a.every((one, at) => one === b[at])
}
