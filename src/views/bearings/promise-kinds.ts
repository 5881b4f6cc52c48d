import { PROMISE_PARTS, type PromiseKind, type PromisePart } from '../../core/story/promise-parts'

/** How each kind is offered. */
const SAYS: Readonly<Record<PromiseKind, string>> = {
  never: 'never: it can not come to …',
  always: 'always: at every moment …',
  possible: 'possible: it can come to …',
  stillPossible: 'from everywhere while …, it can still come to …',
  inOrder: 'in order: first …, and only then …',
}

const LEADS: Readonly<Record<PromisePart, string>> = {
  holds: 'it can still come that',
  while: 'While',
  first: 'First',
  then: 'and only then',
}

/** What a part of a promise is led in by: the only one by its kind. */
function leadOf(kind: PromiseKind, part: PromisePart): string {
  const isAlone = PROMISE_PARTS[kind].length === 1
  return isAlone ? `${kind[0]!.toUpperCase()}${kind.slice(1)}:` : LEADS[part]
}

/** The kinds of promises, as they are offered, and how each part is led in. */
export const PROMISE_KINDS = (Object.keys(PROMISE_PARTS) as PromiseKind[]).map((kind) => ({
  kind,
  says: SAYS[kind],
  parts: PROMISE_PARTS[kind].map((part) => [part, leadOf(kind, part)] as const),
}))
