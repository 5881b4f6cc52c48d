import { sameNumbers } from '../../base/same'
import type { LinkedBeat, LinkedStory } from '../../story/linked'
import { cutsOfBeat } from '../summaries/given-classes'
import { changedBeats, isReordered, turnsIn } from '../../story/linked-parts'
import { phasesOf } from '../../story/turns'
import type { BeatSummary, FlowEdges } from '../summaries/beat-summary'
import { Layout } from './layout'
import { analyseLiveness, updateLiveness, type Liveness } from '../analysis/liveness'
import type { Observed } from '../analysis/observed'
import { questHorizon, type QuestHorizon } from '../analysis/quest-horizon'
import { flowGraphOf, withSummaries, type FlowGraph } from '../analysis/flow-graph'
import { allotSlots, type Slots } from '../analysis/slots'
import { sameWords, slotsAfterEdit } from '../analysis/slots-after-edit'

/** What is worked out about a story before it is searched. */
export interface Preparation {
  readonly story: LinkedStory
  readonly observed: Observed
  readonly slots: Slots
  readonly roads: FlowGraph
  readonly horizon: QuestHorizon
  readonly liveness: Liveness
  readonly layout: Layout
  /** Whether the edit that it was brought up to date with moved beats. */
  readonly isReordered: boolean
}

/**
 * Prepares a search. `before` is what was prepared for the story as it was before an edit: what
 * the edit can't have changed is taken from there. `reduce` off, for tests: everything is held
 * everywhere.
 */
export function prepare(story: LinkedStory, observed: Observed, reduce: boolean, before?: Preparation): Preparation {
  const again = reduce ? before && update(story, observed, before) : undefined
  if (again !== undefined) return again
  const slots = allotSlots(story, observed.demands)
  const roads = flowGraphOf(story, slots, observed.anywhere)
  const horizon = questHorizon(story, roads)
  const every = { ...observed, keep: slots.all.map((slot) => slot.index) }
  const liveness = analyseLiveness(
    story,
    slots,
    roads,
    horizon,
    reduce ? observed : every,
    reduce && observed.anywhere !== true,
  )
  const layout = new Layout(story, slots, roads, liveness)
  return { story, observed, slots, roads, horizon, liveness, layout, isReordered: false }
}

/** Undefined where the edit changed more than what some beats ask and set, and where they lead. */
function update(story: LinkedStory, observed: Observed, before: Preparation): Preparation | undefined {
  const { story: old, slots } = before
  if (
    story.entries !== old.entries ||
    story.quests !== old.quests ||
    story.beats.length !== old.beats.length ||
    story.choices.length !== old.choices.length
  )
    return undefined
  if (story.start !== old.start || story.doc.promises !== old.doc.promises || !sameObserved(observed, before.observed))
    return undefined
  const numbers = changedBeats(story, old)
  const changed = numbers.map((beat) => story.beats[beat]!)
  const sameRoads = withSummaries(story, before.roads, changed)
  // words are told apart in the order of the document
  const isMoved = isReordered(story, old)
  let isSameWords = !isMoved
  let isTurned = false
  const edited: [BeatSummary, BeatSummary][] = []
  for (const { index, ask, ending, choices } of changed) {
    const was = old.beats[index]!
    if ((ask === undefined) !== (was.ask === undefined)) return undefined
    const [now, then] = [sameRoads.summaries[index]!, before.roads.summaries[index]!]
    if (!samePhases(story.beats[index]!, was) || cutsOfBeat(story, story.beats[index]!) !== cutsOfBeat(story, was))
      return undefined
    isSameWords &&= sameWording(now.wording, then.wording)
    isTurned ||=
      ending !== was.ending ||
      choices.length > 0 !== was.choices.length > 0 ||
      !sameNumbers(now.quests, then.quests) ||
      !sameTargets(now.edges, then.edges)
    edited.push([now, then])
  }
  if (!isSameWords && !sameWords(story, slots)) return undefined
  const letGo = slotsAfterEdit(slots, story, old, numbers)
  if (letGo === undefined) return undefined
  const roads = isTurned ? flowGraphOf(story, slots, observed.anywhere, before.roads) : sameRoads
  const horizon = isTurned ? questHorizon(story, roads) : before.horizon
  const said = isTurned ? undefined : edited
  const liveness = updateLiveness(before.liveness, story, slots, roads, horizon, observed, said)
  letGo()
  // where no road was turned nobody rests at a beat that came, so it needs no place among the states
  const layout = !isTurned && liveness.isSame ? before.layout : new Layout(story, slots, roads, liveness, before.layout)
  return { story, observed, slots, roads, horizon, liveness, layout, isReordered: isMoved }
}

/** Whether they tell the same words apart; an expression that is written the same is the same object. */
function sameWording(a: BeatSummary['wording'], b: BeatSummary['wording']): boolean {
  const same = <T>(one: readonly T[], other: readonly T[], part: (item: T) => unknown) =>
    one.length === other.length && one.every((item, at) => part(item) === part(other[at]!))
  return (
    same(a.exprs, b.exprs, (expr) => expr) &&
    same(a.effects, b.effects, ({ entry }) => entry) &&
    same(a.effects, b.effects, ({ value }) => value) &&
    same(a.texts, b.texts, ({ source }) => source)
  )
}

function sameTargets(a: FlowEdges, b: FlowEdges): boolean {
  const targets = ({ redirects, choices, onward }: FlowEdges) =>
    JSON.stringify([redirects, choices, onward].map((ways) => ways.map(({ to }) => to)))
  return targets(a) === targets(b)
}

function sameObserved(a: Observed, b: Observed): boolean {
  return (
    a.unsetTexts === b.unsetTexts &&
    a.quests === b.quests &&
    a.promises === b.promises &&
    a.keep.length + b.keep.length === 0 &&
    a.keepAt === undefined &&
    b.keepAt === undefined &&
    a.demands === undefined &&
    b.demands === undefined &&
    a.anywhere === b.anywhere &&
    sameSets(a.overruns, b.overruns) &&
    sameSets(a.turns, b.turns)
  )
}

function sameSets(a: ReadonlySet<number>, b: ReadonlySet<number>): boolean {
  return a.size === b.size && [...a].every((one) => b.has(one))
}

/** Whether the groups in turn of a beat have as many phases as before. */
function samePhases(now: LinkedBeat, then: LinkedBeat): boolean {
  const phases = (beat: LinkedBeat) => turnsIn(beat).map(phasesOf).join()
  return phases(now) === phases(then)
}
