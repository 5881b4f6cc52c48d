import type { LinkedStory } from '../../story/linked'
import type { BeatSummary } from '../summaries/beat-summary'
import { flowAbout } from '../summaries/flow-about'
import { ChunkMasks } from './chunk-masks'
import { ChunkTransfer } from './chunk-transfer'
import type { FlowGraph } from './flow-graph'
import { HeldSlots, type Held } from './held-slots'
import { LiveSlots } from './live-slots'
import type { Observed } from './observed'
import type { QuestHorizon } from './quest-horizon'
import { sameChunks, SlotChunks, type ChunkByBeat } from './slot-chunks'
import type { Slots } from './slots'
import { turnedBeats, type ByBeat, type Turned } from './turned'

/** What a state has to hold, by where it rests; slots in order. */
export interface Liveness {
  /** Live and possibly changed while the story rests at a beat. */
  readonly atRest: SlotChunks
  /** The same where it is stuck after a chunk. */
  readonly stuck: SlotChunks
  /** Slots that are live after a beat's lines, when its choices, its chunk or its roads on come; changed or not, and others that can't have changed. Worked out when asked for. */
  readonly afterLines: (beat: number) => number[]
  /** The same for all beats. */
  readonly afterLinesOfAll: () => SlotChunks
  /** Whether states hold just what they held in the analysis that this one was made from. */
  readonly isSame: boolean
  /** To make the next one from. */
  readonly analysis: Analysis
}

/**
 * Live-variable analysis (Aho, Lam, Sethi, Ullman: Compilers, 9.2.5) over the roads of the story.
 * A slot is live where some road from there reads it before setting it anew; where it is not, its
 * value can make no difference, and states that differ only in it are one. An assignment keeps
 * what it reads alive only where its target is live. What the findings look at counts as read. Of
 * what is live, only that needs to be held which something on the way can have changed.
 *
 * Slots are taken 32 at a time, and for each such chunk only the beats are looked at that can lie
 * between one that names such a slot and one that asks for it: in a long story that is a small part.
 * Before them none can have changed, after them none is live. `held` off, for tests: all that is
 * live is held, changed or not.
 */
export function analyseLiveness(
  story: LinkedStory,
  slots: Slots,
  roads: FlowGraph,
  horizon: QuestHorizon,
  observed: Observed,
  held = true,
): Liveness {
  return new Analysis(story, slots, roads, horizon, observed, held).run()
}

/**
 * The same after an edit that left slots and what is observed as they were: beats are looked at again only where it can make a
 * difference. `edited`, where roads have stayed too: what edited beats say now, and said; only of slots about which that is something
 * else are any looked at.
 */
export function updateLiveness(
  before: Liveness,
  story: LinkedStory,
  slots: Slots,
  roads: FlowGraph,
  horizon: QuestHorizon,
  observed: Observed,
  edited: readonly (readonly [BeatSummary, BeatSummary])[] | undefined,
): Liveness {
  const analysis = () => new Analysis(story, slots, roads, horizon, observed, true)
  // what is live in one chunk hangs on others then
  if (before.analysis.reachesAcross) return analysis().run()
  const chunks = edited && chunksEdited(slots, edited, before.analysis)
  if (chunks?.size === 0) return { ...before, isSame: true }
  const now = analysis()
  const liveness = now.update(before.analysis, chunks)
  return now.reachesAcross ? analysis().run() : liveness
}

/** Chunks of slots about which a beat says something else than before; undefined where it can concern all. */
function chunksEdited(
  slots: Slots,
  edited: readonly (readonly [BeatSummary, BeatSummary])[],
  before: Analysis,
): Set<number> | undefined {
  const chunks = new Set<number>()
  for (const [now, then] of edited) {
    // whatever is live after such a rest has to be held there
    if (before.readsGiven(now) !== before.readsGiven(then)) return undefined
    for (const variable of [...now.variables, ...then.variables]) {
      const slot = slots.ofVariable[variable]!
      const chunk = slot >>> 5
      if (slot === -1 || chunks.has(chunk)) continue
      const about = (one: number) => slots.ofVariable[one] !== -1 && slots.ofVariable[one]! >>> 5 === chunk
      if (flowAbout(now, about) !== flowAbout(then, about)) chunks.add(chunk)
    }
  }
  return chunks
}

/** What was found out about one chunk: which beats were looked at, what is live on coming into them, what states hold. */
interface ChunkResult extends Held {
  readonly inScope: Uint8Array
  readonly live: Int32Array
}

class Analysis {
  private readonly results: ChunkResult[] = []
  private readonly masks: ChunkMasks
  private readonly transfer: ChunkTransfer
  private readonly heldSlots: HeldSlots
  /** Chunks that are still to be looked at, or again. */
  private readonly again = new Set<number>()
  private readonly liveSlots: LiveSlots

  constructor(
    private readonly story: LinkedStory,
    slots: Slots,
    private readonly roads: FlowGraph,
    private readonly horizon: QuestHorizon,
    observed: Observed,
    private readonly held: boolean,
  ) {
    this.masks = new ChunkMasks(story, slots, roads, observed)
    this.transfer = new ChunkTransfer(story, slots, roads, observed, this.masks, held, (chunk) => this.again.add(chunk))
    this.heldSlots = new HeldSlots(story, roads, horizon, !held)
    this.liveSlots = new LiveSlots(roads)
  }

  run(): Liveness {
    const { results, again } = this
    for (let chunk = 0; chunk < this.masks.count; chunk += 1) again.add(chunk)
    // what a chunk makes live in one that was looked at before is looked at again
    for (const chunk of again) {
      again.delete(chunk)
      results[chunk] = this.look(chunk)
    }
    return this.told(undefined)
  }

  /** `before`: an analysis whose slots and questions are the same; `chunks`: those that are looked at again, or all. */
  update(before: Analysis, chunks: ReadonlySet<number> | undefined): Liveness {
    const turned = turnedBeats(this.byBeat, before.byBeat)
    const isTurned = new Uint8Array(this.story.beats.length)
    for (const beat of turned.beats) isTurned[beat] = 1
    before.results.forEach((known, chunk) => {
      const isLeft = chunks?.has(chunk) === false || this.isElsewhere(chunk, known, turned, isTurned)
      this.results[chunk] = isLeft ? known : this.lookAgain(chunk, known, turned)
    })
    return this.told(before)
  }

  /** Whether no turned beat was looked at for a chunk, or names a slot of it now: then none of those that were leads elsewhere, and all is as it was. */
  private isElsewhere(chunk: number, { inScope }: ChunkResult, { beats }: Turned, isTurned: Uint8Array): boolean {
    return beats.every((beat) => inScope[beat] === 0) && this.masks.namers[chunk]!.every((beat) => isTurned[beat] === 0)
  }

  private get byBeat(): ByBeat {
    return { roads: this.roads, horizon: this.horizon, reached: this.transfer.reached }
  }

  private told(before: Analysis | undefined): Liveness {
    const isSame =
      before?.results.every(
        ({ atRest, stuck }, chunk) =>
          sameChunks(atRest, this.results[chunk]!.atRest) && sameChunks(stuck, this.results[chunk]!.stuck),
      ) ?? false
    const afterLines = (beat: number) => {
      const row = new SlotChunks(1)
      for (let chunk = 0; chunk < this.masks.count; chunk += 1) row.add(0, chunk, this.shownAfterLines(chunk, beat))
      return row.slots(0)
    }
    return {
      atRest: this.rows(({ atRest }) => atRest),
      stuck: this.rows(({ stuck }) => stuck),
      afterLines,
      afterLinesOfAll: () => this.everyAfterLines(),
      isSame,
      analysis: this,
    }
  }

  /** Whether a rest at a beat can be left as something given changes. */
  readsGiven(summary: BeatSummary): boolean {
    return this.masks.readsGiven(summary)
  }

  get reachesAcross(): boolean {
    return this.transfer.reachesAcross
  }

  private everyAfterLines(): SlotChunks {
    const { length } = this.story.beats
    const rows = new SlotChunks(length)
    this.results.forEach((_, chunk) =>
      this.lookBack(chunk, () => {
        for (let beat = 0; beat < length; beat += 1) rows.add(beat, chunk, this.afterLinesOrUnchanged(chunk, beat))
      }),
    )
    return rows
  }

  /** What is live after a beat's lines, or can't have changed by then. */
  private shownAfterLines(chunk: number, beat: number): number {
    return this.lookBack(chunk, () => this.afterLinesOrUnchanged(chunk, beat))
  }

  /** Asks about a chunk that was looked at before. */
  private lookBack<T>(chunk: number, ask: () => T): T {
    this.transfer.turnTo(chunk, this.results[chunk])
    return ask()
  }

  private afterLinesOrUnchanged(chunk: number, beat: number): number {
    const { transfer } = this
    if (this.held && transfer.inScope[beat] === 0) return this.masks.all(chunk)
    // what is noted somewhere ahead of a beat that can still set it is carried by every road to the beat
    return transfer.afterLines(beat, transfer.atRest(beat)) | transfer.noted(this.horizon.ahead, beat)
  }

  private rows(of: (result: ChunkResult) => ChunkByBeat): SlotChunks {
    const rows = new SlotChunks(this.story.beats.length)
    this.results.forEach((result, chunk) => {
      const { beats, bits } = of(result)
      for (let at = 0; at < beats.length; at += 1) rows.add(beats[at]!, chunk, bits[at]!)
    })
    return rows
  }

  /** Finds where slots of a chunk are live, and which of them states hold. */
  private look(chunk: number): ChunkResult {
    const { transfer, liveSlots } = this
    transfer.turnTo(chunk)
    liveSlots.find(transfer)
    return { ...this.heldSlots.of(transfer), inScope: transfer.inScope, live: transfer.live }
  }

  private lookAgain(chunk: number, known: ChunkResult, turned: Turned): ChunkResult {
    const { transfer, liveSlots } = this
    transfer.turnTo(chunk)
    transfer.live = known.live.slice()
    const moved = liveSlots.findAgain(transfer, known, turned.beats)
    const held = this.heldSlots.again(transfer, known, turned, moved)
    return { ...held, inScope: transfer.inScope, live: transfer.live }
  }
}
