import type { LinkedQuest } from '../../story/linked'
import type { SurveyContext } from '../context'
import { prospects } from '../prospects'
import { finding, type Finding } from '../result'

/** `prospects` answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way.
 */
export function questEnds(context: SurveyContext): Finding[] {
  const quests = context.story.quests.filter((quest) => quest.outcomes.some((outcome) => outcome !== undefined))
  const found: Finding[] = []
  for (let at = 0; at < quests.length; at += GROUP) found.push(...endsOf(context, quests.slice(at, at + GROUP)))
  return found
}

function endsOf({ search, routes }: SurveyContext, quests: readonly LinkedQuest[]): Finding[] {
  const slots = quests.map((quest) => search.slots.ofQuest[quest.index]!)
  const { values } = search
  const outlook = prospects(search, quests.map((quest, at) => () => quest.outcomes[values[slots[at]!]!] !== undefined))
  const found = new Map<string, Finding>()
  for (let state = 0; state < search.states; state += 1) {
    const { ending } = search.settle(state)
    for (let at = 0; at < quests.length; at += 1) {
      const quest = quests[at]!
      const stage = values[slots[at]!]!
      if (stage === 0 || quest.outcomes[stage] !== undefined) continue
      const kind = ending !== -1 ? 'left-open' : outlook.may(state, at) ? undefined : 'stranded-stage'
      const id = quest.stages[stage]!
      const name = `${kind} ${quest.id} ${id}`
      if (kind === undefined || found.has(name)) continue
      const message =
        kind === 'left-open' ? `the story can end while "${quest.id}" is at "${id}"` : `"${quest.id}" can get to "${id}" and never come to an outcome`
      found.set(name, finding(kind, [quest.id, id], message, routes.toState(state)))
      // the route's decisions were looked up in other states
      search.settle(state)
    }
  }
  return [...found.values()]
}
