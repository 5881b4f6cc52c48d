import type { Explored } from './exploration'
import { finding, lazyRoute, type Found } from './finding'

/** A decision after which no ending can be reached any more; keyed `start` where none can be reached at all. */
export function noWayOut(explored: Explored): Found[] {
  const lost = explored.lostEndings()
  if (lost === 'nowhere') return [finding('no-way-out', ['start'], 'no ending can be reached at all', lazyRoute([]))]
  return lost.map(({ decision, route }) => {
    const isChoice = 'choice' in decision
    const what = isChoice ? 'this choice' : `a word typed here ("${decision.word}")`
    const key = isChoice ? decision.choice : decision.at
    return finding('no-way-out', [key], `after ${what} no ending can be reached any more`, route)
  })
}
