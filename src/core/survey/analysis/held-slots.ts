import type { LinkedStory } from '../../story/linked'
import type { BitRows } from './bits'
import type { BeatSummary, FlowEdge } from '../summaries/beat-summary'
import type { QuestHorizon } from './quest-horizon'
import type { Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import { BitList, type ChunkByBeat } from './slot-chunks'
import { Worklist } from './worklist'

/** What is known of one chunk of slots once their liveness has settled; sets of slots are bits of it. */
export interface ChunkView {
  /** Whether a beat names one of the slots, and those that do. */
  readonly names: Uint8Array
  readonly named: Int32Array
  /** Whether any road comes to a beat. */
  readonly reached: Uint8Array
  /** What is looked at where the story rests at a beat. */
  watchedAt(beat: number): number
  /** What can have been changed before the story begins. */
  readonly begun: number
  /** What is chosen anew after every rest, and never held. */
  readonly freed: number
  /** Whether some of the slots are quests that are noted. */
  readonly notes: boolean
  /** What is live on going from one beat into another. */
  into(target: number, from: number): number
  atRest(beat: number): number
  /** What is live where a rest at a beat can be left as something given changes. */
  afterChange(beat: number): number
  /** Quests of a row that are noted. */
  noted(rows: BitRows, beat: number): number
  /** The slots of some variables. */
  mask(variables: BeatSummary['variables']): number
}

export interface Held {
  readonly atRest: ChunkByBeat
  readonly stuck: ChunkByBeat
}

/**
 * The slots that states hold: forward over the roads from what is set, as far as it is live or
 * noted. What is noted for the findings is no use of it: a quest that was noted once, on a road
 * that sets it no more, is dropped there even where other roads lead to a beat at which it is.
 */
export class HeldSlots {
  /** What can have changed on coming into a beat; 0 between two chunks. */
  private readonly changed: Int32Array
  private readonly work: Worklist
  private touched: number[] = []

  /** `every`, for tests: what is live is held, changed or not. */
  constructor(
    private readonly story: LinkedStory,
    private readonly roads: FlowGraph,
    private readonly horizon: QuestHorizon,
    private readonly every: boolean,
  ) {
    this.changed = new Int32Array(story.beats.length)
    this.work = new Worklist(roads.order)
  }

  of(view: ChunkView): Held {
    const atRest = new BitList()
    const stuck = new BitList()
    const { changed, work } = this
    const { names, named, reached } = view
    const list = (beat: number, now: number) => {
      const { into } = this.roads.summaries[beat]!.edges
      const noted = view.noted(this.horizon.observed, beat)
      if (now !== 0) atRest.add(beat, (view.atRest(beat) | noted) & now & ~view.freed)
      if (this.story.beats[beat]!.ask !== undefined)
        stuck.add(
          beat,
          (view.watchedAt(beat) | view.afterChange(beat) | noted) &
            (into === -1 ? now : now | view.mask([into])) &
            ~view.freed,
        )
    }
    if (this.every) {
      for (let beat = 0; beat < reached.length; beat += 1) if (reached[beat] === 1) list(beat, -1)
      return { atRest: atRest.list(), stuck: stuck.list() }
    }
    const { start } = this.story
    if (view.begun !== 0 && start !== -1) this.enter(view, start, view.begun, start, 0)
    for (const beat of named) if (reached[beat] === 1) work.add(beat)
    for (let beat = work.take(); beat !== -1; beat = work.take()) this.pass(view, beat)
    // what neither names a slot of the chunk nor is come to with a changed one holds none: most beats, most of the time
    for (const beat of named)
      if (reached[beat] === 1) list(beat, changed[beat]! | view.mask(this.roads.summaries[beat]!.edges.body))
    for (const beat of this.touched) if (names[beat] === 0) list(beat, changed[beat]!)
    for (const beat of this.touched) changed[beat] = 0
    this.touched = []
    return { atRest: atRest.list(), stuck: stuck.list() }
  }

  /** Hands on what can have changed at a beat. */
  private pass(view: ChunkView, beat: number): void {
    const { changed } = this
    const { ahead, summaries, redirects, choices, onward } = this.roads
    const { ask } = this.story.beats[beat]!
    // where the story rested a quest was noted; on the way by itself it is still to be
    const decided = view.notes ? view.noted(this.horizon.ahead, beat) : 0
    const passed = view.notes ? view.noted(this.horizon.observed, beat) : 0
    if (view.names[beat] === 0) {
      if (!view.notes) return this.along(view, ahead, beat, 0)
      this.along(view, redirects, beat, passed)
      this.along(view, choices, beat, decided)
      return this.along(view, onward, beat, ask === undefined ? passed : decided)
    }
    const { edges: ways } = summaries[beat]!
    this.follow(view, beat, ways.redirects, changed[beat]!, passed)
    const now = changed[beat]! | view.mask(ways.body)
    this.follow(view, beat, ways.choices, now, decided)
    this.follow(
      view,
      beat,
      ways.onward,
      ways.into === -1 ? now : now | view.mask([ways.into]),
      ask === undefined ? passed : decided,
    )
  }

  private along(view: ChunkView, { first, beats }: Adjacency, beat: number, carried: number): void {
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1)
      this.enter(view, beats[at]!, this.changed[beat]!, beat, carried)
  }

  private follow(view: ChunkView, beat: number, ways: readonly FlowEdge[], now: number, carried: number): void {
    const { first, beats } = this.roads.returns
    for (let number = 0; number < ways.length; number += 1) {
      const { to, sets } = ways[number]!
      const after = now | view.mask(sets)
      if (after === 0) continue
      if (to >= 0) this.enter(view, to, after, beat, carried)
      else
        for (let at = first[beat]!; at < first[beat + 1]!; at += 1) this.enter(view, beats[at]!, after, beat, carried)
    }
  }

  private enter(view: ChunkView, target: number, bits: number, from: number, carried: number): void {
    const { changed } = this
    const more =
      bits & (view.into(target, from) | (carried & view.noted(this.horizon.observed, target))) & ~changed[target]!
    if (more === 0) return
    if (changed[target] === 0) this.touched.push(target)
    changed[target]! |= more
    this.work.add(target)
  }
}
