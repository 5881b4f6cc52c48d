import { keyOfLoss, type LostEnding } from '../findings/exploration'
import { NO_STATE } from '../states/state-set'
import type { EndingProspects } from './prospects'
import type { Routes } from './routes'
import type { Search } from './search'

/** The decisions that lead from where some ending can be reached to where none can. */
export function lostEndings(search: Search, routes: Routes, endings: EndingProspects): LostEnding[] | 'nowhere' {
  const { beginnings } = search
  if (!beginnings.some(({ state }) => endings.may(state))) {
    return beginnings.length > 0 || search.done ? 'nowhere' : []
  }
  if (endings.everywhere) return []
  const found = new Map<string, LostEnding>()
  for (const { state, given } of beginnings) {
    if (endings.may(state) || found.has('start')) continue
    const route = { length: 0, take: () => routes.begun(given) }
    found.set('start', { key: 'start', by: undefined, route })
  }
  const { degrees, table, story } = search
  const { mustStates: sure, mayStates: possible } = endings
  let start = 0
  let end = 0
  for (let state = 0; state < search.expanded; state += 1) {
    start = end
    end += degrees[state]!
    if (!sure.has(table.idOf(state))) continue
    for (let edge = start; edge < end; edge += 1) {
      const next = search.successorId(edge)
      if (next === NO_STATE || possible.has(next)) continue
      const by = routes.decision(state, edge - start)
      const key = keyOfLoss(by, story.beats[search.beatOf(state)]!.address)
      if (found.has(key)) continue
      const pick = edge - start < search.movesOf(state) ? start - edge - 2 : edge - start
      found.set(key, { key, by, route: routes.lazyOf({ state, pick }) })
    }
  }
  return [...found.values()]
}
