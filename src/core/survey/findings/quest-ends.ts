import type { LinkedQuest } from '../../story/linked'
import { has } from '../bits'
import type { SurveyContext } from '../context'
import { shortestContinuation } from '../continuation'
import { canReachWithin } from '../explicit/backward'
import type { Field } from '../explicit/layout'
import type { Search } from '../explicit/search'
import { NumberList } from '../explicit/table'
import { finding, type Finding } from '../result'

/** Backward reachability answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(context: SurveyContext): Finding[] {
  const { search, story } = context
  const quests = story.quests.filter(({ outcomes }) => outcomes.some((outcome) => outcome !== undefined))
  const held = questsHeld(search)
  const groups = statesByGroup(search, held, new Map(quests.map(({ index }, at) => [index, Math.floor(at / GROUP)])))
  const masks = new Uint32Array(search.states)
  const found: Finding[] = []
  for (let at = 0; at < quests.length; at += GROUP) {
    const states = groups[at / GROUP]
    if (states !== undefined) found.push(...endsOfGroup(context, held, quests.slice(at, at + GROUP), states, masks))
  }
  return found
}

/** For every group of quests the states that hold one of them, in order. */
function statesByGroup(search: Search, held: (location: number) => readonly Held[], groupOf: ReadonlyMap<number, number>): Uint32Array[] {
  const known: (readonly number[] | undefined)[] = []
  const lists: NumberList[] = []
  for (let state = 0; state < search.states; state += 1) {
    const location = search.locationOf(state)
    const groups = (known[location] ??= [...new Set(held(location).flatMap(({ quest }) => groupOf.get(quest) ?? []))])
    for (let at = 0; at < groups.length; at += 1) (lists[groups[at]!] ??= new NumberList(64)).push(state)
  }
  return Array.from(lists, (list) => list?.items.subarray(0, list.length))
}

/** A stage under way at which a quest was met: where its outcome can't be come to any more, and where the story ends with it. */
interface Open {
  stranded: number
  readonly ends: number[]
}

/**
 * From a state at which a quest is under way its outcome is come to, if at all, through states that
 * hold the quest, so only those, in `states`, are gone through. `masks` is 0 everywhere, before and after.
 */
function endsOfGroup(context: SurveyContext, held: (location: number) => readonly Held[], quests: readonly LinkedQuest[], states: Uint32Array, masks: Uint32Array): Finding[] {
  const { search, story, endings, routes } = context
  const stages = new StageReader(search, held, quests)
  const under = new Uint32Array(states.length)
  let anyOpen = 0
  for (let index = 0; index < states.length; index += 1) {
    const state = states[index]!
    const count = stages.read(state)
    let mask = 0
    let open = 0
    for (let at = 0; at < count; at += 1) {
      const bit = stages.bits[at]!
      if (quests[bit]!.outcomes[stages.stages[at]!] === undefined) open |= 1 << bit
      else mask |= 1 << bit
    }
    // what was not looked at may lead anywhere
    masks[state] = state < search.expanded ? mask : 0xffffffff
    under[index] = open
    anyOpen |= open
  }
  if (anyOpen === 0) {
    for (const state of states) masks[state] = 0
    return []
  }
  canReachWithin(search, masks, states)
  const open = quests.map((): Open[] => [])
  const finals = finalQuests(search, quests)
  for (let index = 0; index < states.length; index += 1) {
    if (under[index] === 0) continue
    const state = states[index]!
    const beat = search.beatOf(state)
    const ended = story.beats[beat]!.ending !== -1
    const final = finals(beat)
    if (!ended && (final & under[index]!) === 0 && (under[index]! & ~masks[state]!) === 0) continue
    const count = stages.read(state)
    for (let at = 0; at < count; at += 1) {
      const bit = stages.bits[at]!
      if (((under[index]! >>> bit) & 1) === 0) continue
      const one = (open[bit]![stages.stages[at]!] ??= { stranded: -1, ends: [] })
      if (one.stranded === -1 && !ended && ((masks[state]! >>> bit) & 1) === 0) one.stranded = state
      if (ended || (((final >>> bit) & 1) === 1 && endings.can(state, 0))) one.ends.push(state)
    }
  }
  for (const state of states) masks[state] = 0
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

/** Of a beat, as bits: the quests whose stage no road ahead sets any more. */
function finalQuests({ horizon }: Search, quests: readonly LinkedQuest[]): (beat: number) => number {
  const known: (number | undefined)[] = []
  return (beat) => {
    let mask = known[beat]
    if (mask === undefined) {
      const ahead = horizon.ahead.row(beat)
      mask = quests.reduce((bits, { index }, bit) => (has(ahead, index) ? bits : bits | (1 << bit)), 0)
      known[beat] = mask
    }
    return mask
  }
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

/** Numbers of one quest in a plan: its bit, then the field's word, stride and size. */
const ONE = 4

/** Tells, of a state, the started stages of some quests; reads the packed state. */
class StageReader {
  /** What was read last: quests by their place in the group, and their stages. */
  readonly bits = new Uint8Array(GROUP)
  readonly stages = new Uint32Array(GROUP)
  private readonly plans: (Int32Array | undefined)[] = []
  private readonly bitOf: ReadonlyMap<number, number>

  constructor(
    private readonly search: Search,
    private readonly held: (location: number) => readonly Held[],
    quests: readonly LinkedQuest[],
  ) {
    this.bitOf = new Map(quests.map(({ index }, bit) => [index, bit]))
  }

  /** Reads a state; gives how many quests are started. */
  read(state: number): number {
    const { layout, table } = this.search
    const { states } = table
    const offset = state * layout.words
    const first = states[offset]!
    const location = layout.locationOf(first)
    const plan = (this.plans[location] ??= this.plan(location))
    const base = layout.baseOf(location)
    let count = 0
    for (let at = 0; at < plan.length; at += ONE) {
      const word = plan[at + 1] === 0 ? first - base : states[offset + plan[at + 1]!]!
      const stage = ((word / plan[at + 2]!) | 0) % plan[at + 3]!
      if (stage === 0) continue
      this.bits[count] = plan[at]!
      this.stages[count] = stage
      count += 1
    }
    return count
  }

  private plan(location: number): Int32Array {
    return Int32Array.from(
      this.held(location).flatMap(({ quest, field }) => {
        const bit = this.bitOf.get(quest)
        return bit === undefined ? [] : [bit, field.word, field.stride, field.size]
      }),
    )
  }
}
