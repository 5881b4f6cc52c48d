import type { StoryPromise } from '../../core/story/types'

export type PromiseKind = StoryPromise['kind']

/** The kinds of promises, as they are offered, and how each part is led in. */
export const PROMISE_KINDS: readonly {
  readonly kind: PromiseKind
  readonly says: string
  readonly parts: readonly (readonly [key: 'holds' | 'while' | 'first' | 'then', lead: string])[]
}[] = [
  { kind: 'never', says: 'never: it can not come to …', parts: [['holds', 'Never:']] },
  { kind: 'always', says: 'always: at every moment …', parts: [['holds', 'Always:']] },
  { kind: 'possible', says: 'possible: it can come to …', parts: [['holds', 'Possible:']] },
  {
    kind: 'stillPossible',
    says: 'from everywhere while …, it can still come to …',
    parts: [
      ['while', 'While'],
      ['holds', 'it can still come that'],
    ],
  },
  {
    kind: 'inOrder',
    says: 'in order: first …, and only then …',
    parts: [
      ['first', 'First'],
      ['then', 'and only then'],
    ],
  },
]
