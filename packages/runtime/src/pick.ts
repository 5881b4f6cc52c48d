/** 2^31 − 1 and a multiplier of Park and Miller (Random number generators: good ones are hard to find, 1988). */
const MODULUS = 2147483647
const MULTIPLIER = 48271

/**
 * The turn, 0 to below `turns`, that a group of the order "any" shows, of a seed, the group's number in the bundle and how
 * often it was come to before. Nothing has to be kept between, and every product is exact as a double.
 */
export function pickTurn(seed: number, group: number, times: number, turns: number): number {
  const next = (value: number, more: number) => (value * MULTIPLIER + more + 1) % MODULUS
  const start = ((seed % MODULUS) + MODULUS) % MODULUS
  return next(next(next(next(start, group % MODULUS), times % MODULUS), 0), 0) % turns
}
