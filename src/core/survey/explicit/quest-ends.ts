import { sameNumbers } from '../../base/same'
import type { LinkedQuest } from '../../story/linked'
import { has } from '../analysis/bits'
import type { QuestEnd } from '../findings/exploration'
import { questsHeld, StageReader } from '../states/stage-reader'
import type { EndingProspects } from './prospects'
import type { Routes } from './routes'
import { shortestThrough } from './continuation'
import type { Layout } from '../states/layout'
import { ofGraph } from './same-graph'
import type { Search } from './search'
import { NumberList } from '../states/lists'

/** Backward reachability answers this many properties at once. */
const GROUP = 32

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(search: Search, routes: Routes, endings: EndingProspects): QuestEnd[] {
  return ofGraph(known, search, () => openQuests(search, endings)).flatMap(({ quest, stage, stranded, ends }) => {
    const found: QuestEnd[] = []
    if (stranded !== -1) found.push({ kind: 'stranded-stage', quest, stage, route: routes.lazyTo(stranded) })
    if (ends.length > 0) found.push({ kind: 'left-open', quest, stage, route: shortestThrough(search, routes, ends) })
    return found
  })
}

/** A stage under way at which a quest was met: the first state where its outcome can't be come to any more, or -1, and those where the story ends with it. */
interface Open {
  stranded: number
  readonly ends: number[]
}

interface OpenQuest extends Readonly<Open> {
  readonly quest: string
  readonly stage: string
}

const known = new WeakMap<object, readonly OpenQuest[]>()

function openQuests(search: Search, endings: EndingProspects): readonly OpenQuest[] {
  const groups = groupsOf(search)
  const lists = statesByGroup(search, groups)
  const masks = new Uint32Array(search.states)
  return groups.list.flatMap((group, at) =>
    lists[at] === undefined ? [] : endsOfGroup(search, endings, group, lists[at], masks),
  )
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
const knownGroups = new WeakMap<Layout, Groups>()

function groupsOf(search: Search): Groups {
  const before = knownGroups.get(search.layout)
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
  // most locations hold quests of the same groups as the one before
  let last: readonly number[] = []
  const groupsHeld = (location: number): readonly number[] => {
    const some: number[] = []
    for (const { quest } of held(location)) {
      const group = groupOf.get(quest)
      if (group !== undefined && !some.includes(group)) some.push(group)
    }
    if (!sameNumbers(some, last)) last = some
    return last
  }
  const groups = { list, at: (location: number) => (groupsAt[location] ??= groupsHeld(location)) }
  knownGroups.set(layout, groups)
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

/**
 * From a state at which a quest is under way its outcome is come to, if at all, through states that
 * hold the quest, so only those, in `states`, are gone through. `masks` is 0 everywhere, before and after.
 */
function endsOfGroup(
  search: Search,
  endings: EndingProspects,
  { quests, stages, finals }: Group,
  states: Uint32Array,
  masks: Uint32Array,
): OpenQuest[] {
  const { story } = search
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
  search.backward.canReachWithin(masks, states)
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
      if (ended || (((final >>> bit) & 1) === 1 && endings.must(state))) one.ends.push(state)
    }
  }
  for (let index = 0; index < states.length; index += 1) masks[states[index]!] = 0
  return quests.flatMap(({ id, stages: names }, bit) =>
    open[bit]!.flatMap((one, stage) => ({ ...one, quest: id, stage: names[stage]! })),
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
