import type { LinkedQuest } from '../../story/linked'
import { has } from '../bits'
import type { SurveyContext } from '../context'
import { prospects } from '../prospects'
import { finding, type Finding } from '../result'
import { shortestContinuation } from '../continuation'

/** `prospects` answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(context: SurveyContext): Finding[] {
  const quests = context.story.quests.filter((quest) => quest.outcomes.some((outcome) => outcome !== undefined))
  const found: Finding[] = []
  for (let at = 0; at < quests.length; at += GROUP) found.push(...endsOf(context, quests.slice(at, at + GROUP)))
  return found
}

interface Open {
  readonly quest: LinkedQuest
  readonly stage: string
  /** First resting state, not ended, from which no outcome can be come to; -1: none. */
  stranded: number
  /** Where the story ends, or can still end with the stage as it is. */
  readonly ends: number[]
}

function endsOf({ search, routes, endings }: SurveyContext, quests: readonly LinkedQuest[]): Finding[] {
  const slots = quests.map((quest) => search.slots.ofQuest[quest.index]!)
  const { values, resting, horizon, liveness } = search
  const { words, observed } = liveness
  const seen = (at: number) => has(observed.subarray(resting.beat * words, (resting.beat + 1) * words), slots[at]!)
  const outlook = prospects(search, quests.map((quest, at) => () => seen(at) && quest.outcomes[values[slots[at]!]!] !== undefined))
  const open = new Map<string, Open>()
  for (let state = 0; state < search.states; state += 1) {
    const { beat, ending } = search.settle(state)
    for (let at = 0; at < quests.length; at += 1) {
      const quest = quests[at]!
      if (!seen(at)) continue
      const stage = values[slots[at]!]!
      if (stage === 0 || quest.outcomes[stage] !== undefined) continue
      const id = quest.stages[stage]!
      const name = `${quest.id} ${id}`
      const found = open.get(name) ?? { quest, stage: id, stranded: -1, ends: [] }
      open.set(name, found)
      if (ending === -1 && found.stranded === -1 && !outlook.may(state, at)) found.stranded = state
      const final = !has(horizon.ahead.row(beat), quest.index)
      if (ending !== -1 || (final && endings.can(state, 0))) found.ends.push(state)
    }
  }
  return [...open.values()].flatMap(({ quest, stage, stranded, ends }) => [
    ...(stranded === -1
      ? []
      : [finding('stranded-stage', [quest.id, stage], `"${quest.id}" can get to "${stage}" and never come to an outcome`, routes.toState(stranded))]),
    ...(ends.length === 0
      ? []
      : [finding('left-open', [quest.id, stage], `the story can end while "${quest.id}" is at "${stage}"`, routes.along(shortestContinuation(search, ends)))]),
  ])
}
