import type { StateSpace } from './state-space'

/** What is found out of the states and transitions of a search alone: once it is done it is kept for all that have the same. */
export function ofGraph<T extends object>(
  known: WeakMap<object, T>,
  { graph, done }: { readonly graph: object; readonly done: boolean },
  find: () => T,
): T {
  const before = done ? known.get(graph) : undefined
  if (before !== undefined) return before
  const found = find()
  if (done) known.set(graph, found)
  return found
}

/**
 * Whether a search after an edit found just the states that the one before had, numbered and packed alike, with just
 * the same transitions: then what was found out of these alone holds. (Where a road, or where the story ends, was
 * edited, the layout is another.)
 */
export function sameGraph(now: StateSpace, before: StateSpace): boolean {
  const { table, layout, states, transitions } = now
  if (layout !== before.layout || states !== before.states || transitions !== before.transitions) return false
  for (let state = 0; state < states; state += 1) {
    const id = table.idOf(state)
    if (id !== before.table.idOf(state) || now.degree(state) !== before.degree(state)) return false
    for (let cell = 0; cell < layout.cells; cell += 1)
      if (table.cellOf(id, cell) !== before.table.cellOf(id, cell)) return false
  }
  for (let edge = 0; edge < transitions; edge += 1) if (now.successorId(edge) !== before.successorId(edge)) return false
  return true
}
