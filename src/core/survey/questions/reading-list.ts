import type { Slices } from '../../base/slices'
import { Routes } from '../explicit/routes'
import { turnPlan, turnsTold } from '../summaries/turn-plan'
import type { Survey } from '../survey'
import { searchKeeping } from './search-keeping'
import { MANNERS, ReadingMap, type Looked, type Walk } from './reading-map'
import type { ReadingList } from './reading-routes'
import { readingListInSets } from './set-reading-list'
import { unlessTooMuch } from '../symbolic/diagrams/node-table'

/** Playing more transitions than this again takes too long while somebody waits. */
const TRANSITIONS_MAX = 400_000

/** States that are looked at between two stops. */
const STRIDE = 128

/**
 * A cover of everything that the story can show. Finding the smallest is NP-hard (set cover; Karp,
 * 1972); this is the greedy walk: always on to the nearest transition that shows something new, then to
 * the nearest ending, then again from the start. It is done in several manners; walks that the
 * others make needless are left out, and each is made anew for just what it alone shows. The shortest
 * list is kept.
 */
export function* readingList(survey: Survey, stop: () => boolean = () => false): Slices<ReadingList | 'too many'> {
  if (survey.inSets !== undefined) return (yield* unlessTooMuch(readingListInSets(survey.inSets, stop))) ?? 'too many'
  if (!survey.search.done || survey.search.transitions > TRANSITIONS_MAX) return 'too many'
  const map = new ReadingMap((yield* withAllTurns(survey, stop)) ?? survey, stop)
  yield* map.gather()
  const steps = (walks: readonly Walk[]) => walks.reduce((sum, walk) => sum + walk.length, 0)
  const lists: (readonly Walk[])[] = []
  for (const manner of MANNERS) {
    const walks = yield* map.walks(manner)
    if (walks !== undefined) lists.push(yield* map.shortened(map.withoutNeedless(walks)))
  }
  if (lists.length === 0) return 'too many'
  return map.tell(lists.reduce((best, list) => (steps(list) < steps(best) ? list : best)))
}

/** The same states with the turns of all groups told apart, also of those that a survey follows alone; undefined where there are none, or that is too much. */
function* withAllTurns({ story }: Survey, stop: () => boolean): Slices<Looked | undefined> {
  const turns = turnsTold(story)
  if (turns.size === turnPlan(story).main.size) return undefined
  const search = searchKeeping(story, [], turns)
  while (!search.done) {
    if (stop() || search.transitions > TRANSITIONS_MAX) return undefined
    search.advance(STRIDE)
    yield
  }
  return search.transitions > TRANSITIONS_MAX ? undefined : { story, search, routes: new Routes(search) }
}
