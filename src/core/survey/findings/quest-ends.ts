import type { LinkedQuest } from '../../story/linked'
import { has } from '../bits'
import type { SurveyContext } from '../context'
import { shortestContinuation } from '../continuation'
import type { Field } from '../explicit/layout'
import type { Search } from '../explicit/search'
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
  const quests = context.story.quests.filter(({ outcomes }) => outcomes.some((outcome) => outcome !== undefined))
  const held = questsHeld(context.search)
  const found: Finding[] = []
  for (let at = 0; at < quests.length; at += GROUP) found.push(...endsOfGroup(context, held, quests.slice(at, at + GROUP)))
  return found
}

/** A stage under way at which a quest was met: where its outcome can't be come to any more, and where the story ends with it. */
interface Open {
  stranded: number
  readonly ends: number[]
}

function endsOfGroup(context: SurveyContext, held: (location: number) => readonly Held[], quests: readonly LinkedQuest[]): Finding[] {
  const { search, story, endings, routes } = context
  const stages = stageReader(search, held, quests)
  let anyOpen = false
  const outlook = canReachEither(search, (seeds) => {
    for (let state = 0; state < search.states; state += 1) {
      stages(state, (bit, stage) => {
        if (quests[bit]!.outcomes[stage] === undefined) anyOpen = true
        else seeds[state]! |= 1 << bit
      })
    }
  })
  if (!anyOpen) return []
  const open = quests.map((): Open[] => [])
  for (let state = 0; state < search.states; state += 1) {
    const beat = search.beatOf(state)
    const ended = story.beats[beat]!.ending !== -1
    stages(state, (bit, stage) => {
      const { index, outcomes } = quests[bit]!
      if (outcomes[stage] !== undefined) return
      const one = (open[bit]![stage] ??= { stranded: -1, ends: [] })
      if (one.stranded === -1 && !ended && !outlook.may(state, bit)) one.stranded = state
      const final = !has(search.horizon.ahead.row(beat), index)
      if (ended || (final && endings.can(state, 0))) one.ends.push(state)
    })
  }
  return quests.flatMap(({ id, stages: names }, bit) =>
    open[bit]!.flatMap(({ stranded, ends }, stage) => {
      const name = names[stage]!
      const found: Finding[] = []
      if (stranded !== -1) {
        found.push(finding('stranded-stage', [id, name], `"${id}" can get to "${name}" and never come to an outcome`, routes.toState(stranded)))
      }
      if (ends.length > 0) {
        const route = routes.along(shortestContinuation(search, ends))
        found.push(finding('left-open', [id, name], `the story can end while "${id}" is at "${name}"`, route))
      }
      return found
    }),
  )
}

interface Held {
  readonly quest: number
  readonly field: Field
}

/** Which quests that are looked at a state holds, by where it rests; a quest that is not held there has not been started. */
function questsHeld({ story, layout, horizon, slots }: Search): (location: number) => readonly Held[] {
  const known: (readonly Held[] | undefined)[] = []
  return (location) =>
    (known[location] ??= layout.fieldsOf(location).flatMap((field) => {
      const slot = slots.all[field.slot]!
      const looked = slot.kind === 'quest' && has(horizon.observed.row(location % story.beats.length), slot.quest)
      return looked ? [{ quest: slot.quest, field }] : []
    }))
}

/** Tells, of a state, the started stages of some quests; reads the packed state. */
function stageReader({ layout, table }: Search, held: (location: number) => readonly Held[], quests: readonly LinkedQuest[]): (state: number, hear: (bit: number, stage: number) => void) => void {
  const bits = new Map(quests.map(({ index }, bit) => [index, bit]))
  const plans: (readonly (Held & { readonly bit: number })[] | undefined)[] = []
  const planAt = (location: number) =>
    held(location).flatMap((one) => {
      const bit = bits.get(one.quest)
      return bit === undefined ? [] : [{ ...one, bit }]
    })
  const { words } = layout
  return (state, hear) => {
    const { states } = table
    const location = layout.locationOf(states[state * words]!)
    for (const { bit, field } of (plans[location] ??= planAt(location))) {
      const stage = layout.digit(field, location, states, state * words)
      if (stage !== 0) hear(bit, stage)
    }
  }
}
