/** A seeded source of numbers, so that whatever uses it can be repeated. */
export interface Random {
  /** A whole number from 0 up to, not including, `limit`. */
  below(limit: number): number
  /** True with the given probability, 0 to 1. */
  chance(probability: number): boolean
  pick<T>(items: readonly T[]): T
  /** From 0 up to, not including, 1. */
  fraction(): number
}

/** splitmix32 (Steele, Lea, Flood: Fast splittable pseudorandom number generators, 2014). */
export function seededRandom(seed: number): Random {
  const multiply = Math.imul
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x9e3779b9) >>> 0
    let mixed = state
    mixed = multiply(mixed ^ (mixed >>> 16), 0x21f0aaad)
    mixed = multiply(mixed ^ (mixed >>> 15), 0x735a2d97)
    return ((mixed ^ (mixed >>> 15)) >>> 0) / 4294967296
  }
  const below = (limit: number): number => Math.floor(next() * limit)
  return {
    below,
    chance: (probability) => next() < probability,
    pick: (items) => items[below(items.length)]!,
    fraction: next,
  }
}
