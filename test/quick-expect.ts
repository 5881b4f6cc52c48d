import { isDeepStrictEqual } from 'node:util'

/**
 * Tests of generated stories assert hundreds of thousands of times, and to make an assertion takes a hundred times as
 * long as to see that it holds. So what is plainly the same passes at once, and all else is left to Jest's own `expect`,
 * which is less strict and tells what differs.
 */
class QuickMatchers {
  constructor(private readonly actual: unknown) {}

  toBe(wanted: unknown): void {
    if (!Object.is(this.actual, wanted)) inFull(QuickMatchers.prototype.toBe, () => full(this.actual).toBe(wanted))
  }

  toEqual(wanted: unknown): void {
    if (!isDeepStrictEqual(this.actual, wanted))
      inFull(QuickMatchers.prototype.toEqual, () => full(this.actual).toEqual(wanted))
  }

  toBeUndefined(): void {
    if (this.actual !== undefined)
      inFull(QuickMatchers.prototype.toBeUndefined, () => full(this.actual).toBeUndefined())
  }
}

/** A failure is shown at the line of the test, not at one of this file. */
function inFull(matcher: (wanted: unknown) => void, assert: () => void): void {
  try {
    assert()
  } catch (error) {
    if (error instanceof Error) Error.captureStackTrace(error, matcher)
    throw error
  }
}

const full = expect
for (const name of ['not', 'resolves', 'rejects', ...Object.keys(full(undefined))])
  if (!(name in QuickMatchers.prototype))
    Object.defineProperty(QuickMatchers.prototype, name, {
      get(this: { readonly actual: unknown }) {
        const matchers = full(this.actual)
        return matchers[name as keyof typeof matchers]
      },
    })

const quick = (actual: unknown) => new QuickMatchers(actual)
Object.assign(globalThis, { expect: Object.setPrototypeOf(quick, full) as unknown })
