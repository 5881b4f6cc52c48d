/**
 * Exact integers: a plain number while it is safe, a BigInt beyond ±(2^53 − 1).
 * Every result is normalised, so equal integers are equal by ===.
 */
export type Int = number | bigint

export function add(left: Int, right: Int): Int {
  if (typeof left === 'number' && typeof right === 'number') {
    const sum = left + right
    if (Number.isSafeInteger(sum)) return sum
  }
  return normal(BigInt(left) + BigInt(right))
}

export function subtract(left: Int, right: Int): Int {
  if (typeof left === 'number' && typeof right === 'number') {
    const difference = left - right
    if (Number.isSafeInteger(difference)) return difference
  }
  return normal(BigInt(left) - BigInt(right))
}

export function multiply(left: Int, right: Int): Int {
  if (typeof left === 'number' && typeof right === 'number') {
    const product = left * right
    // + 0 turns −0 into 0
    if (Number.isSafeInteger(product)) return product + 0
  }
  return normal(BigInt(left) * BigInt(right))
}

export function negate(value: Int): Int {
  return subtract(0, value)
}

function normal(value: bigint): Int {
  const plain = Number(value)
  return Number.isSafeInteger(plain) ? plain : value
}
