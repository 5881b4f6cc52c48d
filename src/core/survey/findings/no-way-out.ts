import type { Explored, LostEnding } from './exploration'
import { finding, lazyRoute, type Found } from './finding'

/**
 * A decision after which no ending can be reached any more; keyed `start` where none can be reached at all, or from the
 * way in which the story begins.
 */
export function noWayOut(explored: Explored): Found[] {
  const lost = explored.lostEndings()
  if (lost === 'nowhere') return [finding('no-way-out', ['start'], 'no ending can be reached at all', lazyRoute([]))]
  return lost.map((one) => finding('no-way-out', [one.key], messageOf(one), one.route))
}

function messageOf({ by }: LostEnding): string {
  if (by === undefined) return 'begun with these given values, no ending can be reached'
  const what =
    'choice' in by
      ? 'this choice'
      : 'word' in by
        ? `a word typed here ("${by.word}")`
        : 'a change of given values by which the story goes on from here'
  return `after ${what} no ending can be reached any more`
}
