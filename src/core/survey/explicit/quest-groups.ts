import { sameNumbers } from '../../base/same'
import type { LinkedQuest } from '../../story/linked'
import { has } from '../analysis/bits'
import type { Layout } from '../states/layout'
import { questsHeld, StageReader } from '../states/stage-reader'
import type { Search } from './search'

/** Backward reachability answers this many properties at once. */
const GROUP = 32

/** Quests that can come to an outcome, a bit each. */
export interface QuestGroup {
  readonly quests: readonly LinkedQuest[]
  readonly stages: StageReader
  /** Of a beat: the quests whose stage no road ahead sets any more. */
  readonly finals: (beat: number) => number
}

/** All such quests, in groups; `at` gives the groups of which a state holds a quest, by where it rests. */
export interface QuestGroups {
  readonly list: readonly QuestGroup[]
  readonly at: (location: number) => readonly number[]
}

/** How states are packed says all of it; an edit that leaves that as it is leaves these. */
const known = new WeakMap<Layout, QuestGroups>()

export function questGroups(search: Search): QuestGroups {
  const before = known.get(search.layout)
  if (before !== undefined) return before
  const { story, layout } = search
  const quests = story.quests.filter(({ outcomes }) => outcomes.some((outcome) => outcome !== undefined))
  const held = questsHeld(search)
  const list: QuestGroup[] = []
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
  known.set(layout, groups)
  return groups
}

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
