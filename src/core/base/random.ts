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

/** The golden ratio, by which the state goes on where nothing else is asked for. */
const GAMMA = 0x9e3779b9

/** splitmix32 (Steele, Lea, Flood: Fast splittable pseudorandom number generators, 2014). */
export function seededRandom(seed: number, gamma = GAMMA): Random {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + gamma) >>> 0
    return mix(state) / 4294967296
  }
  const below = (limit: number): number => Math.floor(next() * limit)
  return {
    below,
    chance: (probability) => next() < probability,
    pick: (items) => items[below(items.length)]!,
    fraction: next,
  }
}

/**
 * A source for one part of what one seed is used for; the first, 0, is that of the seed itself. Each part has a gamma of its
 * own, and so other numbers in another order, not the same ones from another place on (as in the paper above).
 */
export function partRandom(seed: number, part: number): Random {
  if (part === 0) return seededRandom(seed)
  const begun = mix((mix(seed) + Math.imul(part, GAMMA)) >>> 0)
  const bits = mix(begun ^ 0x5bd1e995) | 1
  // too few changes between neighbouring bits make poor sequences
  const changes = bitsIn((bits ^ (bits >>> 1)) >>> 0)
  return seededRandom(begun, (changes < 12 ? bits ^ 0xaaaaaaaa : bits) >>> 0)
}

function mix(value: number): number {
  let mixed = value >>> 0
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x21f0aaad)
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97)
  return (mixed ^ (mixed >>> 15)) >>> 0
}

function bitsIn(value: number): number {
  let bits = 0
  for (let left = value; left !== 0; left &= left - 1) bits += 1
  return bits
}
