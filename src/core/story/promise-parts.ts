import type { StoryPromise } from './types'

export type PromiseKind = StoryPromise['kind']
export type PromisePart = 'holds' | 'while' | 'first' | 'then'

/** The conditions that each kind of promise is made of, in the order in which they are read. */
export const PROMISE_PARTS: Readonly<Record<PromiseKind, readonly PromisePart[]>> = {
  never: ['holds'],
  always: ['holds'],
  possible: ['holds'],
  stillPossible: ['while', 'holds'],
  inOrder: ['first', 'then'],
}

/** All of them, in the order in which problems of theirs are told. */
export const ALL_PROMISE_PARTS: readonly PromisePart[] = ['holds', 'while', 'first', 'then']

/** What stands in a part of a promise; undefined where its kind has no such part, or it was not written. */
export function promisePart(promise: StoryPromise, part: PromisePart): string | undefined {
  return PROMISE_PARTS[promise.kind].includes(part)
    ? (promise as Readonly<Partial<Record<PromisePart, string>>>)[part]
    : undefined
}
