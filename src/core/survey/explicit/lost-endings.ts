import type { LostEnding } from '../findings/exploration'
import { NO_STATE } from '../states/state-set'
import type { EndingProspects } from './prospects'
import type { Routes } from './routes'
import type { Search } from './search'

/** The decisions that lead from where some ending can be reached to where none can. */
export function lostEndings(search: Search, routes: Routes, endings: EndingProspects): LostEnding[] | 'nowhere' {
  const fromStart = search.states > 0 && endings.may(0)
  if (!fromStart) {
    return search.states > 0 || search.done ? 'nowhere' : []
  }
  if (endings.everywhere) return []
  const found = new Map<string, LostEnding>()
  const { degrees, table } = search
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
      const decision = routes.decision(state, edge - start)
      const key = 'choice' in decision ? decision.choice : decision.at
      if (found.has(key)) continue
      found.set(key, { decision, route: routes.lazyOf({ state, pick: edge - start }) })
    }
  }
  return [...found.values()]
}
