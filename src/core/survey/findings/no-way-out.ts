import type { Decision } from '../../story/types'
import type { SurveyContext } from '../context'
import { NO_STATE } from '../states/state-set'
import { finding, wayOfRoute, type Found, type Way } from '../result'

/** No ending can be reached, whatever is decided. */
export const NO_ENDING: Found = finding('no-way-out', ['start'], 'no ending can be reached at all', wayOfRoute([]))

/** What a decision is found by. */
export function keyOf(decision: Decision): string {
  return 'choice' in decision ? decision.choice : decision.at
}

export function noEndingAfter(decision: Decision, way: Way): Found {
  const what = 'choice' in decision ? 'this choice' : `a word typed here ("${decision.word}")`
  return finding('no-way-out', [keyOf(decision)], `after ${what} no ending can be reached any more`, way)
}

/** The decisions that lead from where some ending can be reached to where none can. */
export function noWayOut({ search, routes, complete, endings: ofEndings }: SurveyContext): Found[] {
  const endings = ofEndings()
  const fromStart = search.states > 0 && endings.may(0)
  if (!fromStart) {
    return search.states > 0 || complete ? [NO_ENDING] : []
  }
  if (endings.everywhere) return []
  const found = new Map<string, Found>()
  const { degrees, table } = search
  const { sure, possible } = endings
  let start = 0
  let end = 0
  for (let state = 0; state < search.expanded; state += 1) {
    start = end
    end += degrees[state]!
    if (!sure.has(table.nameOf(state))) continue
    for (let edge = start; edge < end; edge += 1) {
      const next = search.successorName(edge)
      if (next === NO_STATE || possible.has(next)) continue
      const decision = routes.decision(state, edge - start)
      const key = keyOf(decision)
      if (found.has(key)) continue
      found.set(key, noEndingAfter(decision, routes.wayOf({ state, pick: edge - start })))
    }
  }
  return [...found.values()]
}
