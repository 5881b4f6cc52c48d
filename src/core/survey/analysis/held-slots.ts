import type { LinkedStory } from '../../story/linked'
import type { BitRows } from './bits'
import type { BeatSummary, FlowEdge } from '../summaries/beat-summary'
import type { QuestHorizon } from './quest-horizon'
import { each, type Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import { BitList, withThese, type ChunkByBeat } from './slot-chunks'
import type { Turned } from './turned'
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
  /** What can have changed on coming into a beat, of what is live or noted there. */
  readonly changed: Int32Array
  readonly atRest: ChunkByBeat
  readonly stuck: ChunkByBeat
}

/**
 * The slots that states hold: forward over the roads from what is set, as far as it is live or
 * noted. What is noted for the findings is no use of it: a quest that was noted once, on a road
 * that sets it no more, is dropped there even where other roads lead to a beat at which it is.
 */
export class HeldSlots {
  private changed = new Int32Array(0)
  private readonly work: Worklist
  private readonly components: Worklist
  /** The component that is looked at alone, or -1. */
  private component = -1

  /** `every`, for tests: what is live is held, changed or not. */
  constructor(
    private readonly story: LinkedStory,
    private readonly roads: FlowGraph,
    private readonly horizon: QuestHorizon,
    private readonly every: boolean,
  ) {
    this.work = new Worklist(roads.order)
    this.components = new Worklist(Int32Array.from(roads.layerOf.keys()))
  }

  of(view: ChunkView): Held {
    const { work } = this
    const { named, reached } = view
    this.changed = new Int32Array(reached.length)
    if (!this.every) {
      this.begin(view)
      for (const beat of named) if (reached[beat] === 1) work.add(beat)
      this.settle(view)
    }
    return { changed: this.changed, ...this.listed(view, view.reached.keys()) }
  }

  /**
   * The same after an edit, from what was held before. `moved`: beats at which something else is live now. What
   * can have changed in a strongly connected component hangs on nothing but its own beats and on earlier components, so only
   * those are looked at anew for which that is another.
   */
  again(view: ChunkView, before: Held, turned: Turned, moved: readonly number[]): Held {
    const { components, work } = this
    const { layerOf, membersOf, sources, ahead } = this.roads
    const { reached, names } = view
    const changed = before.changed.slice()
    this.changed = changed
    const stale = new Set<number>()
    const toList = (beat: number) => stale.add(beat)
    const toFind = (beat: number) => components.add(layerOf[beat]!)
    for (const beat of turned.beats) toList(beat)
    for (const beat of turned.entered) toFind(beat)
    for (const beat of moved) {
      toFind(beat)
      each(sources, beat, toList)
    }
    for (let one = components.take(); one !== -1; one = components.take()) {
      this.component = one
      const isMember = (beat: number) => layerOf[beat] === one
      each(membersOf, one, (beat) => (changed[beat] = 0))
      if (this.story.start !== -1 && isMember(this.story.start)) this.begin(view)
      each(membersOf, one, (beat) => {
        if (reached[beat] === 0) return
        if (names[beat] === 1) work.add(beat)
        each(sources, beat, (source) => {
          if (reached[source] === 1 && !isMember(source)) this.pass(view, source)
        })
      })
      this.settle(view)
      each(membersOf, one, (beat) => {
        if (changed[beat] === before.changed[beat]) return
        toList(beat)
        each(ahead, beat, (target) => {
          if (!isMember(target)) toFind(target)
        })
      })
    }
    this.component = -1
    const beats = Int32Array.from(stale).sort()
    const now = this.listed(view, beats)
    return {
      changed,
      atRest: withThese(before.atRest, beats, now.atRest),
      stuck: withThese(before.stuck, beats, now.stuck),
    }
  }

  /** What can have changed before the story begins. */
  private begin(view: ChunkView): void {
    const { start } = this.story
    if (view.begun !== 0 && start !== -1) this.enter(view, start, view.begun, start, 0)
  }

  private settle(view: ChunkView): void {
    const { work } = this
    for (let beat = work.take(); beat !== -1; beat = work.take()) this.pass(view, beat)
  }

  /** What states hold at some beats, given in order. */
  private listed(view: ChunkView, beats: Iterable<number>): Pick<Held, 'atRest' | 'stuck'> {
    const atRest = new BitList()
    const stuck = new BitList()
    const { changed, every } = this
    const { names, reached } = view
    for (const beat of beats) {
      // what neither names a slot of the chunk nor is come to with a changed one holds none: most beats, most of the time
      if (reached[beat] === 1 && (every || names[beat] === 1 || changed[beat] !== 0))
        this.list(view, beat, atRest, stuck)
    }
    return { atRest: atRest.list(), stuck: stuck.list() }
  }

  private list(view: ChunkView, beat: number, atRest: BitList, stuck: BitList): void {
    const { into, body } = this.roads.summaries[beat]!.edges
    const now = this.every ? -1 : view.names[beat] === 1 ? this.changed[beat]! | view.mask(body) : this.changed[beat]!
    const noted = view.noted(this.horizon.observed, beat)
    if (now !== 0) atRest.add(beat, (view.atRest(beat) | noted) & now & ~view.freed)
    if (this.story.beats[beat]!.ask === undefined) return
    const typed = into === -1 ? now : now | view.mask([into])
    stuck.add(beat, (view.watchedAt(beat) | view.afterChange(beat) | noted) & typed & ~view.freed)
  }

  /** Hands on what can have changed at a beat. */
  private pass(view: ChunkView, beat: number): void {
    const { changed } = this
    const { ahead, summaries, redirects, choices, onward } = this.roads
    const { ask, ending, choices: own } = this.story.beats[beat]!
    // where the story rested a quest was noted; on the way by itself it is still to be
    const decided = view.notes ? view.noted(this.horizon.ahead, beat) : 0
    const passed = view.notes ? view.noted(this.horizon.observed, beat) : 0
    // as the roads ahead: none after an ending, but for choices that come first
    const chooses = ending === -1 && ask === undefined
    const goesOn = ending === -1 || own.length > 0
    if (view.names[beat] === 0) {
      if (!view.notes) return this.along(view, ahead, beat, 0)
      this.along(view, redirects, beat, passed)
      if (chooses) this.along(view, choices, beat, decided)
      if (goesOn) this.along(view, onward, beat, ask === undefined ? passed : decided)
      return
    }
    const { edges: ways } = summaries[beat]!
    this.follow(view, beat, ways.redirects, changed[beat]!, passed)
    const now = changed[beat]! | view.mask(ways.body)
    if (chooses) this.follow(view, beat, ways.choices, now, decided)
    const typed = ways.into === -1 ? now : now | view.mask([ways.into])
    if (goesOn) this.follow(view, beat, ways.onward, typed, ask === undefined ? passed : decided)
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
    changed[target]! |= more
    // those of other components are looked at once all before them are settled
    if (this.component === -1 || this.component === this.roads.layerOf[target]) this.work.add(target)
  }
}
