import type { LinkedStory } from '../../story/linked'
import { BitRows, include } from './bits'
import type { Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
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

export function questHorizon(story: LinkedStory, roads: FlowGraph): QuestHorizon {
  const { beats } = story
  const ahead = new BitRows(beats.length, story.quests.length)
  const observed = new BitRows(beats.length, story.quests.length)
  roads.summaries.forEach(({ quests }, beat) => {
    for (const quest of quests) include(ahead.row(beat), quest)
  })
  propagate(roads.order.toReversed(), (beat, again) => {
    spread(ahead, beat, ahead, roads.sources, beat, again)
  })
  observed.bits.set(ahead.bits)
  propagate(roads.order, (beat, again) => {
    const asks = beats[beat]!.ask !== undefined
    // after a decision: what could be set before it; on the way by itself: all that was still to be looked at
    spread(ahead, beat, observed, roads.choices, beat, again)
    spread(asks ? ahead : observed, beat, observed, roads.onward, beat, again)
    spread(observed, beat, observed, roads.redirects, beat, again)
  })
  return { ahead, observed }
}

/** Adds a row to those of the beats that another leads to. */
function spread(
  from: BitRows,
  row: number,
  into: BitRows,
  { first, beats }: Adjacency,
  beat: number,
  again: (other: number) => void,
): void {
  const { words } = from
  const source = row * words
  for (let at = first[beat]!; at < first[beat + 1]!; at += 1) {
    const target = beats[at]! * words
    let grown = 0
    for (let word = 0; word < words; word += 1) {
      const more = from.bits[source + word]! & ~into.bits[target + word]!
      grown |= more
      into.bits[target + word]! |= more
    }
    if (grown !== 0) again(beats[at]!)
  }
}

function propagate(order: Int32Array, visit: (beat: number, again: (other: number) => void) => void): void {
  const work = new Worklist(order)
  work.addAll()
  const again = (beat: number) => work.add(beat)
  for (let beat = work.take(); beat !== -1; beat = work.take()) visit(beat, again)
}
