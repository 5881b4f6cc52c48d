import type { Slices } from '../../../base/slices'
import type { LinkedStory } from '../../../story/linked'
import { allotSlots } from '../../analysis/slots'
import { turnsTold } from '../../summaries/turn-plan'
import { unlessTooMuch } from '../../symbolic/diagrams/node-table'
import { keptInSets, NODES_ASIDE, searchKeeping } from '../search-keeping'
import { encounterGateSlots, type Axis, type CallSheet } from './sheet'
import { SheetOfSets } from './sheet-of-sets'
import { SheetOfStates } from './sheet-of-states'

export type { Axis, CallSheet, Cell, Column, DependsOn, Playing } from './sheet'

/** States that are looked at between two looks at the time. */
const STRIDE = 512
/** States that are looked at one by one before they are looked at in sets. */
const SINGLE = 200_000

/**
 * Who says what at which stage, by a survey of its own in which the quests of the axis are kept everywhere; every choice
 * that approaches somebody is then taken again wherever it is offered. Undefined when `stop` said so before it was done.
 * `single`, for tests: after how many states they are looked at in sets.
 */
export function* callSheet(
  story: LinkedStory,
  axis: Axis,
  stop: () => boolean,
  single = SINGLE,
): Slices<CallSheet | undefined> {
  const quests = [axis.quest, axis.and].flatMap((id) => (id === undefined ? [] : (story.questOf.get(id) ?? [])))
  const slots = allotSlots(story)
  // what the columns are told by, and what gates of other places ask for
  const keep = [...new Set([...quests.map((quest) => slots.ofQuest[quest]!), ...encounterGateSlots(story, slots)])]
  const turns = turnsTold(story)
  const search = searchKeeping(story, keep, turns)
  const advance = function* (states: number): Slices<boolean> {
    while (!search.done && search.expanded < states) {
      search.advance(STRIDE)
      if (stop()) return false
      yield
    }
    return true
  }
  if (!(yield* advance(single))) return undefined
  if (!search.done) {
    const sets = yield* keptInSets(search, turns, stop, NODES_ASIDE)
    const sheet = sets && (yield* unlessTooMuch(new SheetOfSets(story, axis, quests, sets).gather(stop)))
    if (sheet !== undefined) return sheet
  }
  if (!(yield* advance(Infinity))) return undefined
  return yield* new SheetOfStates(story, axis, quests, search).gather(stop)
}
