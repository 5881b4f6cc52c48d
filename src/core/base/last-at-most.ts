/** The index of the last of the first `length` numbers of an ascending list that is at most `value`; 0 where none is. */
export function lastAtMost(list: ArrayLike<number>, length: number, value: number): number {
  let low = 0
  let high = length - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (list[middle]! <= value) low = middle
    else high = middle - 1
  }
  return Math.max(0, low)
}
