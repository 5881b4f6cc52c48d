import type { LinkedBeat, LinkedStory, Road } from '../story/linked'
import { BitRows, include, join, members } from './bits'
import type { Flow } from './flow'
import type { Slots } from './slots'
import { ownersOf } from './story-parts'
import { Worklist } from './worklist'

/**
 * How far a quest's stage has to be remembered for the findings about its end. Once no road ahead
 * sets the quest any more its stage is final; it is looked at once, where the story first rests
 * after that, and need not be carried on from there.
 */
export interface QuestHorizon {
  /** Quests that may still be set from a beat on, the beat's own arrival included. */
  readonly ahead: BitRows
  /** Quests whose stage is looked at where the story rests at a beat. */
  readonly observed: BitRows
}

export function questHorizon(story: LinkedStory, slots: Slots, flow: Flow, order: Int32Array): QuestHorizon {
  const { beats } = story
  const ahead = new BitRows(beats.length, story.quests.length)
  const observed = new BitRows(beats.length, story.quests.length)
  const edges = beats.map((beat) => edgesOf(beat, slots, flow))
  const sources: number[][] = beats.map(() => [])
  beats.forEach((beat, index) => {
    for (const target of [...edges[index]!.decided, ...edges[index]!.automatic]) sources[target]!.push(index)
    for (const { effects } of ownersOf(beat)) {
      for (const { effect } of effects) if (effect.kind === 'stage') include(ahead.row(index), story.questOf.get(effect.quest)!)
    }
  })
  settle(order.toReversed(), (beat, again) => {
    for (const source of sources[beat]!) if (join(ahead.row(source), ahead.row(beat))) again(source)
  })
  for (let beat = 0; beat < beats.length; beat += 1) join(observed.row(beat), ahead.row(beat))
  settle(order, (beat, again) => {
    // after a decision: what could be set before it; on the way by itself: all that was still to be looked at
    for (const target of edges[beat]!.decided) if (join(observed.row(target), ahead.row(beat))) again(target)
    for (const target of edges[beat]!.automatic) if (join(observed.row(target), observed.row(beat))) again(target)
  })
  return { ahead, observed }
}

function settle(order: Int32Array, visit: (beat: number, again: (other: number) => void) => void): void {
  const work = new Worklist(order)
  work.addAll()
  const again = (beat: number) => work.add(beat)
  for (let beat = work.take(); beat !== -1; beat = work.take()) visit(beat, again)
}

function edgesOf(beat: LinkedBeat, slots: Slots, flow: Flow): { readonly decided: ReadonlySet<number>; readonly automatic: ReadonlySet<number> } {
  const decided = new Set<number>()
  const automatic = new Set<number>()
  const go = (into: Set<number>, road: Road) => {
    if (road.kind === 'beat') into.add(road.beat)
    if (road.kind !== 'return') return
    for (const places of [flow.places.row(beat.index), flow.placesBefore.row(beat.index)]) {
      for (const value of members(places)) if (value !== 0) into.add(slots.places[value - 1]!)
    }
  }
  for (const rule of beat.redirects) go(automatic, rule.to)
  for (const rule of beat.onward) go(beat.ask === undefined ? automatic : decided, rule.to)
  for (const choice of beat.choices) {
    if (choice.to.kind === 'road') go(decided, choice.to.road)
    else for (const rule of choice.to.rules) go(decided, rule.to)
  }
  return { decided, automatic }
}
