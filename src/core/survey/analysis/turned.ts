import { each, sameRow } from './adjacency'
import { isSameRow } from './bits'
import type { FlowGraph } from './flow-graph'
import type { QuestHorizon } from './quest-horizon'

/** What the analyses of roads hang on, by beat. */
export interface ByBeat {
  readonly roads: FlowGraph
  readonly horizon: QuestHorizon
  readonly reached: Uint8Array
}

/** What an edit made another: beats that say, lead or note something else, and those that they lead to, or led to. */
export interface Turned {
  readonly beats: readonly number[]
  readonly entered: ReadonlySet<number>
}

export function turnedBeats(now: ByBeat, then: ByBeat): Turned {
  const beats: number[] = []
  const entered = new Set<number>()
  for (let beat = 0; beat < now.reached.length; beat += 1) {
    if (isSame(now, then, beat)) continue
    beats.push(beat)
    for (const { roads } of [now, then]) each(roads.ahead, beat, (target) => entered.add(target))
  }
  return { beats, entered }
}

function isSame(now: ByBeat, then: ByBeat, beat: number): boolean {
  const [one, other] = [now.roads, then.roads]
  return (
    one.summaries[beat] === other.summaries[beat] &&
    now.reached[beat] === then.reached[beat] &&
    // of the roads only those back can lead elsewhere where the beat says the same
    sameRow(one.returns, other.returns, beat) &&
    isSameRow(now.horizon.ahead, then.horizon.ahead, beat) &&
    isSameRow(now.horizon.observed, then.horizon.observed, beat)
  )
}
