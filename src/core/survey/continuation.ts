import type { Search } from './explicit/search'
import { NO_STATE } from './explicit/table'

/**
 * A shortest path from the start to an ended state that comes through one of the given states;
 * from each of them one can be reached. Breadth-first from all of them at once, each beginning at
 * its own depth.
 */
export function shortestContinuation(search: Search, through: readonly number[]): number[] {
  const parents = new Map<number, number>()
  const layers: number[][] = []
  const given = new Set(through)
  for (const state of given) (layers[search.depthOf(state)] ??= []).push(state)
  const seen = new Set<number>()
  for (let depth = 0; depth < layers.length; depth += 1) {
    for (const state of layers[depth] ?? []) {
      if (seen.has(state)) continue
      seen.add(state)
      if (search.settle(state).ending !== -1) return path(search, state, parents)
      if (state >= search.expanded) continue
      for (let at = search.rowStart(state); at < search.rowEnd(state); at += 1) {
        const next = search.successor(at)
        if (next === NO_STATE || seen.has(next)) continue
        // a given state is come to no sooner than at its own depth
        if (given.has(next)) continue
        if (!parents.has(next)) parents.set(next, state)
        ;(layers[depth + 1] ??= []).push(next)
      }
    }
  }
  throw new Error('internal: no ended state can be reached from where one was said to be')
}

/** Back along the continuation, then along the search's own shortest path. */
function path(search: Search, end: number, parents: ReadonlyMap<number, number>): number[] {
  const back = [end]
  for (let at = parents.get(end); at !== undefined; at = parents.get(at)) back.push(at)
  for (let at = search.foundBy(back.at(-1)!); at !== undefined; at = search.foundBy(at.state)) back.push(at.state)
  return back.reverse()
}
