import { members } from '../bits'
import type { SurveyContext } from '../context'
import { shortestContinuation } from '../continuation'
import { canReachEither } from '../prospects'
import { finding, type Finding } from '../result'

/** Backward reachability answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(context: SurveyContext): Finding[] {
  const seen = lookAtQuests(context)
  const found: Finding[] = []
  for (let at = 0; at < seen.length; at += GROUP) {
    const group = seen.slice(at, at + GROUP)
    const outlook = canReachEither(context.search, (seeds) => {
      group.forEach(({ outcomes }, bit) => {
        for (const state of outcomes) seeds[state]! |= 1 << bit
      })
    })
    group.forEach((quest, bit) => found.push(...endsOf(context, quest, (state) => outlook.may(state, bit))))
  }
  return found
}

/** Where one quest was looked at: resting states with an outcome, and with each stage that is none. */
interface Seen {
  readonly index: number
  readonly id: string
  readonly stages: readonly string[]
  readonly outcomes: number[]
  readonly open: Map<number, number[]>
}

function lookAtQuests({ story, search }: SurveyContext): Seen[] {
  const { horizon, values, slots } = search
  const seen: (Seen | undefined)[] = story.quests.map(({ index, id, stages, outcomes }) =>
    outcomes.some((outcome) => outcome !== undefined) ? { index, id, stages, outcomes: [], open: new Map() } : undefined,
  )
  const observed: (readonly number[] | undefined)[] = []
  for (let state = 0; state < search.states; state += 1) {
    const { beat } = search.settle(state)
    observed[beat] ??= members(horizon.observed.row(beat))
    for (const quest of observed[beat]) {
      const one = seen[quest]
      const stage = values[slots.ofQuest[quest]!]!
      if (one === undefined || stage === 0) continue
      if (story.quests[quest]!.outcomes[stage] !== undefined) one.outcomes.push(state)
      else if (one.open.has(stage)) one.open.get(stage)!.push(state)
      else one.open.set(stage, [state])
    }
  }
  return seen.filter((one) => one !== undefined)
}

function endsOf({ search, routes, endings, story }: SurveyContext, { index, id, stages, open }: Seen, mayEnd: (state: number) => boolean): Finding[] {
  const found: Finding[] = []
  for (const [stage, states] of [...open].sort(([a], [b]) => a - b)) {
    const ended = (state: number) => story.beats[search.beatOf(state)]!.ending !== -1
    const final = (state: number) => (search.horizon.ahead.row(search.beatOf(state))[index >>> 5]! >>> (index & 31)) % 2 === 0
    const stranded = states.find((state) => !ended(state) && !mayEnd(state))
    const ends = states.filter((state) => ended(state) || (final(state) && endings.can(state, 0)))
    const name = stages[stage]!
    if (stranded !== undefined) {
      found.push(finding('stranded-stage', [id, name], `"${id}" can get to "${name}" and never come to an outcome`, routes.toState(stranded)))
    }
    if (ends.length > 0) {
      const route = routes.along(shortestContinuation(search, ends))
      found.push(finding('left-open', [id, name], `the story can end while "${id}" is at "${name}"`, route))
    }
  }
  return found
}
