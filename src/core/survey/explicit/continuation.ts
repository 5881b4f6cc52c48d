import type { Search } from './search'
import { NO_STATE } from '../states/state-set'
import type { LazyRoute } from '../findings/finding'
import type { Routes } from './routes'

type Distances = ReturnType<Search['backward']['distancesTo']>

/** By what stands for states and transitions, once somebody asks: how far each state is from the nearest end of the story. */
const known = new WeakMap<object, { readonly expanded: number; readonly ends: Distances }>()

/**
 * A shortest way from the start to an ended state that comes through one of the given states; from
 * each of them one can be reached.
 */
export function shortestThrough(search: Search, routes: Routes, through: readonly number[]): LazyRoute {
  const { distances, next } = toEnds(search)
  let best = -1
  let least = Infinity
  for (const state of through) {
    const length = search.depthOf(state) + distances[state]!
    if (length >= least) continue
    least = length
    best = state
  }
  const path = () => {
    const states = [best]
    for (let state = next[best]!; state !== NO_STATE; state = next[state]!) states.push(state)
    return states
  }
  return { length: least, take: () => routes.along(path()) }
}

function toEnds(search: Search): Distances {
  const before = known.get(search.graph)
  if (before !== undefined && before.expanded === search.expanded) return before.ends
  const { beats } = search.story
  const goals: number[] = []
  for (let state = 0; state < search.states; state += 1) {
    const location = search.locationOf(state)
    if (location < beats.length && beats[location]!.ending !== -1) goals.push(state)
  }
  const ends = search.backward.distancesTo(goals)
  known.set(search.graph, { expanded: search.expanded, ends })
  return ends
}
