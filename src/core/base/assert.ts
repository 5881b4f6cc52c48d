/** Throws on misuse by our own code; expected failures are returned as values instead. */
export function assert(condition: unknown, message: string): asserts condition {
  if (!condition) throw new Error(`internal: ${message}`)
}

/** Ends a switch over a union: the compiler refuses it while a case is missing. */
export function never(value: never): never {
  throw new Error(`internal: unexpected ${JSON.stringify(value)}`)
}
