import type { LinkedQuest } from '../../story/linked'
import { has } from '../analysis/bits'
import type { SurveyContext } from '../context'
import { shortestThrough } from '../explicit/continuation'
import { canReachWithin } from '../explicit/backward'
import type { Field, Layout } from '../states/layout'
import type { Search } from '../explicit/search'
import { NumberList } from '../states/lists'
import { finding, type Found, type Way } from '../result'

/** Backward reachability answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(context: SurveyContext): Found[] {
  const { search } = context
  const groups = groupsOf(search)
  const lists = statesByGroup(search, groups)
  const masks = new Uint32Array(search.states)
  return groups.list.flatMap((group, at) =>
    lists[at] === undefined ? [] : endsOfGroup(context, group, lists[at], masks),
  )
}

export function strandedAt(quest: string, stage: string, way: Way): Found {
  return finding('stranded-stage', [quest, stage], `"${quest}" can get to "${stage}" and never come to an outcome`, way)
}

export function leftOpenAt(quest: string, stage: string, way: Way): Found {
  return finding('left-open', [quest, stage], `the story can end while "${quest}" is at "${stage}"`, way)
}

interface Group {
  readonly quests: readonly LinkedQuest[]
  readonly stages: StageReader
  readonly finals: (beat: number) => number
}

/** Quests that can come to an outcome, in groups; `at` gives the groups of which a state holds a quest, by where it rests. */
interface Groups {
  readonly list: readonly Group[]
  readonly at: (location: number) => readonly number[]
}

/** How states are packed says all of it; an edit that leaves that as it is leaves these. */
const known = new WeakMap<Layout, Groups>()

function groupsOf(search: Search): Groups {
  const before = known.get(search.layout)
  if (before !== undefined) return before
  const { story, layout } = search
  const quests = story.quests.filter(({ outcomes }) => outcomes.some((outcome) => outcome !== undefined))
  const held = questsHeld(search)
  const list: Group[] = []
  for (let at = 0; at < quests.length; at += GROUP) {
    const some = quests.slice(at, at + GROUP)
    list.push({ quests: some, stages: new StageReader(layout, held, some), finals: finalQuests(search, some) })
  }
  const groupOf = new Map(quests.map(({ index }, at) => [index, Math.floor(at / GROUP)]))
  const groupsAt: (readonly number[] | undefined)[] = []
  const groups = {
    list,
    at: (location: number) =>
      (groupsAt[location] ??= [...new Set(held(location).flatMap(({ quest }) => groupOf.get(quest) ?? []))]),
  }
  known.set(layout, groups)
  return groups
}

/** For every group of quests the states that hold one of them, in order. */
function statesByGroup(search: Search, { at }: Groups): (Uint32Array | undefined)[] {
  const lists: NumberList[] = []
  for (let state = 0; state < search.states; state += 1) {
    const groups = at(search.locationOf(state))
    for (let index = 0; index < groups.length; index += 1) (lists[groups[index]!] ??= new NumberList(64)).push(state)
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
function endsOfGroup(
  context: SurveyContext,
  { quests, stages, finals }: Group,
  states: Uint32Array,
  masks: Uint32Array,
): Found[] {
  const { search, story, routes } = context
  const endings = context.endings()
  const under = new Uint32Array(states.length)
  let anyOpen = 0
  for (let index = 0; index < states.length; index += 1) {
    const state = states[index]!
    stages.read(search.packedOf(state))
    // what was not looked at may lead anywhere
    masks[state] = state < search.expanded ? stages.ended : 0xffffffff
    under[index] = stages.open
    anyOpen |= stages.open
  }
  if (anyOpen === 0) {
    for (let index = 0; index < states.length; index += 1) masks[states[index]!] = 0
    return []
  }
  canReachWithin(search, masks, states)
  const open = quests.map((): Open[] => [])
  for (let index = 0; index < states.length; index += 1) {
    if (under[index] === 0) continue
    const state = states[index]!
    const beat = search.beatOf(state)
    const ended = story.beats[beat]!.ending !== -1
    const final = finals(beat)
    if (!ended && (final & under[index]!) === 0 && (under[index]! & ~masks[state]!) === 0) continue
    for (let rest = under[index]!; rest !== 0; rest &= rest - 1) {
      const bit = 31 - Math.clz32(rest & -rest)
      const one = (open[bit]![stages.stageOf(search.packedOf(state), bit)] ??= { stranded: -1, ends: [] })
      if (one.stranded === -1 && !ended && ((masks[state]! >>> bit) & 1) === 0) one.stranded = state
      if (ended || (((final >>> bit) & 1) === 1 && endings.can(state))) one.ends.push(state)
    }
  }
  for (let index = 0; index < states.length; index += 1) masks[states[index]!] = 0
  return quests.flatMap(({ id, stages: names }, bit) =>
    open[bit]!.flatMap(({ stranded, ends }, stage) => {
      const name = names[stage]!
      const found: Found[] = []
      if (stranded !== -1) {
        found.push(strandedAt(id, name, routes.wayTo(stranded)))
      }
      if (ends.length > 0) {
        found.push(leftOpenAt(id, name, shortestThrough(search, routes, ends)))
      }
      return found
    }),
  )
}

/** Of a beat, as bits: the quests whose stage no road ahead sets any more. */
function finalQuests({ horizon }: Search, quests: readonly LinkedQuest[]): (beat: number) => number {
  const masks: (number | undefined)[] = []
  return (beat) => {
    let mask = masks[beat]
    if (mask === undefined) {
      const ahead = horizon.ahead.row(beat)
      mask = quests.reduce((bits, { index }, bit) => (has(ahead, index) ? bits : bits | (1 << bit)), 0)
      masks[beat] = mask
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
  const lists: (readonly Held[] | undefined)[] = []
  return (location) =>
    (lists[location] ??= layout.fieldsOf(location).flatMap((field) => {
      const slot = slots.all[field.slot]!
      const looked = slot.kind === 'quest' && has(horizon.observed.row(location % story.beats.length), slot.quest)
      return looked ? [{ quest: slot.quest, field }] : []
    }))
}

/** Values that neighbouring digits are read by together. */
const TABLE_MAX = 256

/** Neighbouring digits of one word, with what each value of theirs says of the quests among them. */
interface Digits {
  readonly word: number
  readonly stride: number
  readonly size: number
  /** Bits of quests under way, and of those that have come to an outcome. */
  readonly open: Uint32Array
  readonly ended: Uint32Array
}

/** Tells, of a state, which quests of a group are under way and which have ended; reads packed states. */
class StageReader {
  /** Of the state that was read last. */
  open = 0
  ended = 0
  private readonly plans: (readonly Digits[] | undefined)[] = []
  private readonly bitOf: ReadonlyMap<number, number>

  constructor(
    private readonly layout: Layout,
    private readonly held: (location: number) => readonly Held[],
    private readonly quests: readonly LinkedQuest[],
  ) {
    this.bitOf = new Map(quests.map(({ index }, bit) => [index, bit]))
  }

  read(packed: Uint32Array): void {
    const { layout } = this
    const first = packed[0]!
    const location = layout.locationOf(first)
    const plan = (this.plans[location] ??= this.plan(location))
    const base = layout.baseOf(location)
    let open = 0
    let ended = 0
    for (let at = 0; at < plan.length; at += 1) {
      const digits = plan[at]!
      const word = digits.word === 0 ? first - base : packed[digits.word]!
      const value = ((word / digits.stride) | 0) % digits.size
      open |= digits.open[value]!
      ended |= digits.ended[value]!
    }
    this.open = open
    this.ended = ended
  }

  /** The stage that a held quest is at. */
  stageOf(packed: Uint32Array, bit: number): number {
    const { layout } = this
    const location = layout.locationOf(packed[0]!)
    const { field } = this.held(location).find(({ quest }) => this.bitOf.get(quest) === bit)!
    const word = packed[field.word]! - (field.word === 0 ? layout.baseOf(location) : 0)
    return Math.floor(word / field.stride) % field.size
  }

  private plan(location: number): Digits[] {
    const fields = this.held(location).filter(({ quest }) => this.bitOf.has(quest))
    const plan: Digits[] = []
    for (let at = 0; at < fields.length;) {
      const first = fields[at]!.field
      let size = first.size
      let next = at + 1
      while (
        next < fields.length &&
        fields[next]!.field.word === first.word &&
        fields[next]!.field.stride === first.stride * size &&
        size * fields[next]!.field.size <= TABLE_MAX
      ) {
        size *= fields[next]!.field.size
        next += 1
      }
      plan.push(this.digits(fields.slice(at, next), size))
      at = next
    }
    return plan
  }

  private digits(fields: readonly Held[], size: number): Digits {
    const { word, stride } = fields[0]!.field
    const open = new Uint32Array(size)
    const ended = new Uint32Array(size)
    for (let value = 0; value < size; value += 1) {
      let rest = value
      for (const { quest, field } of fields) {
        const stage = rest % field.size
        rest = Math.floor(rest / field.size)
        const bit = this.bitOf.get(quest)!
        if (stage === 0) continue
        if (this.quests[bit]!.outcomes[stage] === undefined) open[value]! |= 1 << bit
        else ended[value]! |= 1 << bit
      }
    }
    return { word, stride, size, open, ended }
  }
}
