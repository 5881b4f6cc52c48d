/** Work that stops now and then to let others work; what it returns is its answer. */
export type Slices<T> = Generator<void, T>

/** Does all of it in one go. */
export function inOneGo<T>(slices: Slices<T>): T {
  let step = slices.next()
  while (step.done !== true) step = slices.next()
  return step.value
}
