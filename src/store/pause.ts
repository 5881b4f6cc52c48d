import type { Slices } from '../core/base/slices'

/** Lets whatever else has come be heard before one goes on. */
export function pause(): Promise<void> {
  return new Promise((resume) => setImmediate(resume))
}

/** Does work bit by bit, others in between. */
export async function inSlices<T>(work: Slices<T>): Promise<T> {
  for (;;) {
    const step = work.next()
    if (step.done === true) return step.value
    await pause()
  }
}
