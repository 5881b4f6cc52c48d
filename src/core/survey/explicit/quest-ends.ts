import type { QuestEnd } from '../findings/exploration'
import { shortestThrough } from './continuation'
import type { EndingProspects } from './prospects'
import { questGroups, type QuestGroup } from './quest-groups'
import { Marks, mark, MasksAfterEdit, seed, statesByGroup, type QuestMasks } from './quest-masks'
import type { Routes } from './routes'
import { ofGraph } from './same-graph'
import type { Search } from './search'

/** What is found of all groups in all states is kept for the search after the next edit up to so many words. */
const KEPT_MOST = 2 ** 22

/**
 * `stranded-stage`: the story rests, not ended, with a quest under way whose outcome can no longer
 * be come to. `left-open`: it ends with a quest under way. A stage that is final is not carried to
 * the end of the story, so a quest is also left open where an ending is reached from a final stage.
 */
export function questEnds(search: Search, routes: Routes, endings: EndingProspects): QuestEnd[] {
  const { open } = ofGraph(known, search, () => openQuests(search, endings))
  return open.flatMap(({ quest, stage, stranded, ends }) => {
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

interface OpenQuests {
  readonly open: readonly OpenQuest[]
  /** By group of quests, for the search after the next edit; undefined where that is too much. */
  readonly kept: readonly QuestMasks[] | undefined
}

const known = new WeakMap<object, OpenQuests>()

function openQuests(search: Search, endings: EndingProspects): OpenQuests {
  const groups = questGroups(search)
  const tell = (masks: readonly QuestMasks[]) =>
    groups.list.flatMap((group, at) => namedBy(search, endings, group, masks[at]!.marks))
  const kept = masksAfterEdit(search)
  if (kept !== undefined) return { open: tell(kept), kept }
  const isKept = search.done && search.states * groups.list.length <= KEPT_MOST
  const lists = statesByGroup(search, groups)
  if (isKept) {
    const found = groups.list.map((group, at) => masksOf(search, group, lists[at]!, new Uint32Array(search.states)))
    return { open: tell(found), kept: found }
  }
  const masks = new Uint32Array(search.states)
  const open = groups.list.flatMap((group, at) => {
    const { marks } = masksOf(search, group, lists[at]!, masks)
    for (const state of lists[at]!) masks[state] = 0
    return namedBy(search, endings, group, marks)
  })
  return { open, kept: undefined }
}

/** The masks of a search that took over most of its states from the one before an edit. */
function masksAfterEdit(search: Search): QuestMasks[] | undefined {
  const { origins } = search
  if (!search.done || origins === undefined) return undefined
  search.origins = undefined
  const before = known.get(origins.graph)?.kept
  if (before === undefined) return undefined
  const after = new MasksAfterEdit(search, questGroups(search), origins)
  if (2 * after.played > search.states || search.states * before.length > KEPT_MOST) return undefined
  return before.map((masks, group) => after.of(group, masks))
}

/** `masks` is 0 everywhere before. */
function masksOf(search: Search, group: QuestGroup, states: Uint32Array, masks: Uint32Array): QuestMasks {
  const marks = new Marks()
  const under = seed(search, group, states, masks)
  search.backward.canReachWithin(masks, states)
  mark(search, group, states, under, masks, marks)
  return { masks, marks }
}

/** What marks, in the order of their states, come to. */
function namedBy(search: Search, endings: EndingProspects, { quests, stages }: QuestGroup, marks: Marks): OpenQuest[] {
  const open = quests.map((): Open[] => [])
  for (let at = 0; at < marks.length; at += 1) {
    const state = marks.states.items[at]!
    const stranded = marks.stranded.items[at]!
    const final = marks.final.items[at]!
    const left = marks.ended.items[at]! | (final !== 0 && endings.must(state) ? final : 0)
    for (let rest = stranded | left; rest !== 0; rest &= rest - 1) {
      const bit = 31 - Math.clz32(rest & -rest)
      const one = (open[bit]![stages.stageOf(search.packedOf(state), bit)] ??= { stranded: -1, ends: [] })
      if (one.stranded === -1 && ((stranded >>> bit) & 1) === 1) one.stranded = state
      if (((left >>> bit) & 1) === 1) one.ends.push(state)
    }
  }
  return quests.flatMap(({ id, stages: names }, bit) =>
    open[bit]!.flatMap((one, stage) => ({ ...one, quest: id, stage: names[stage]! })),
  )
}
