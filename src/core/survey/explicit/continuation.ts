import type { Search } from './search'
import { NO_STATE } from '../states/state-set'
import type { LazyRoute } from '../findings/finding'
import type { Routes } from './routes'

/** By search, once somebody asks: how many decisions each state is from the nearest end of the story, or -1. */
const known = new WeakMap<Search, { readonly expanded: number; readonly distances: Int32Array }>()

/**
 * A shortest way from the start to an ended state that comes through one of the given states; from
 * each of them one can be reached.
 */
export function shortestThrough(search: Search, routes: Routes, through: readonly number[]): LazyRoute {
  const distances = toEnds(search)
  let best = -1
  let least = Infinity
  for (const state of through) {
    const length = search.depthOf(state) + distances[state]!
    if (length >= least) continue
    least = length
    best = state
  }
  return { length: least, take: () => [...routes.toState(best), ...routes.along(onward(search, best, distances))] }
}

function toEnds(search: Search): Int32Array {
  const before = known.get(search)
  if (before !== undefined && before.expanded === search.expanded) return before.distances
  const { beats } = search.story
  const ends: number[] = []
  for (let state = 0; state < search.states; state += 1) {
    const location = search.locationOf(state)
    if (location < beats.length && beats[location]!.ending !== -1) ends.push(state)
  }
  const distances = search.backward.distancesTo(ends)
  known.set(search, { expanded: search.expanded, distances })
  return distances
}

/** States from one to the nearest end, each nearer than the one before. */
function onward(search: Search, from: number, distances: Int32Array): number[] {
  const path = [from]
  for (let state = from; distances[state]! > 0;) {
    let edge = search.firstEdge(state)
    for (;;) {
      const next = search.successor(edge)
      if (next !== NO_STATE && distances[next] === distances[state]! - 1) {
        state = next
        break
      }
      edge += 1
    }
    path.push(state)
  }
  return path
}
