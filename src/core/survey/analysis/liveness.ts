import { assert } from '../../base/assert'
import type { LinkedStory } from '../../story/linked'
import type { Demands } from '../summaries/demands'
import type { BeatSummary } from '../summaries/beat-summary'
import { EFFECT, STEP } from '../summaries/flow'
import { variablesOf, variablesRead, type Variables } from '../summaries/variables'
import type { FollowedTurns } from '../summaries/turn-plan'
import { flowAbout } from '../summaries/flow-about'
import { HeldSlots, type Held, type ChunkView } from './held-slots'
import { isEmpty, type BitRows } from './bits'
import { givenPlan } from './given-plan'
import { beatsThatRead } from './given-reads'
import type { QuestHorizon } from './quest-horizon'
import type { Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import { sameChunks, SlotChunks, type ChunkByBeat } from './slot-chunks'
import type { Slots } from './slots'
import { promiseParts } from '../../story/linked-parts'
import { Worklist } from './worklist'

/** What is looked at besides the conditions of the story itself. */
export interface Observed {
  /** Indices of the entries whose range effects may leave. */
  readonly overruns: ReadonlySet<number>
  readonly turns: FollowedTurns
  readonly unsetTexts: boolean
  readonly quests: boolean
  readonly promises: boolean
  /** Slots kept everywhere, for a question about them. */
  readonly keep: readonly number[]
  /** By chunk: slots kept where the story rests at a beat, for the same. */
  readonly keepAt?: readonly ChunkByBeat[]
  /** What is told apart besides, for the same. */
  readonly demands?: Demands
  /** A playthrough may begin anywhere, with anything. */
  readonly anywhere?: true
}

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
 * The same after an edit, where slots, roads and what is observed have stayed: only the chunks are
 * looked at again about whose slots an edited beat says something else than before. `edited`: what
 * such beats say now, and said.
 */
export function updateLiveness(
  before: Liveness,
  story: LinkedStory,
  slots: Slots,
  roads: FlowGraph,
  horizon: QuestHorizon,
  observed: Observed,
  edited: readonly (readonly [BeatSummary, BeatSummary])[],
): Liveness {
  const analysis = () => new Analysis(story, slots, roads, horizon, observed, true)
  if (before.analysis.reachesAcross) return analysis().run()
  const chunks = new Set<number>()
  for (const [now, then] of edited) {
    for (const variable of [...now.variables, ...then.variables]) {
      const slot = slots.ofVariable[variable]!
      const chunk = slot >>> 5
      if (slot === -1 || chunks.has(chunk)) continue
      const about = (one: number) => slots.ofVariable[one] !== -1 && slots.ofVariable[one]! >>> 5 === chunk
      if (flowAbout(now, about) !== flowAbout(then, about)) chunks.add(chunk)
    }
  }
  return chunks.size === 0 ? { ...before, isSame: true } : analysis().run({ analysis: before.analysis, chunks })
}

/** What was found out about one chunk: the beats that were looked at, what is live on coming into them, what states hold. */
interface WordResult extends Held {
  readonly beats: Int32Array
  readonly live: Int32Array
}

/** After all ranks; a small number, as it stands among them. */
const NEVER = 2 ** 30 - 1

class Analysis implements ChunkView {
  private readonly results: WordResult[] = []
  private readonly chunks: number
  private readonly everywhere: Int32Array
  /** By chunk: slots that the game sets before the story begins. */
  private readonly chosen: Int32Array
  /** By chunk: slots that are chosen anew after every rest. */
  private readonly anew: Int32Array
  /** By beat: whether a rest there can be left as something given changes. */
  private readonly movesOn: Uint8Array
  /** By scene: its own slots. */
  private readonly own: readonly (Int32Array | undefined)[]
  /** By chunk: the beats that name one of its slots. */
  private readonly namers: Int32Array[]
  private readonly variables: Variables
  private readonly scenes: Int32Array
  /** The number of each beat's first effect. */
  private readonly firstEffect: Int32Array
  /** Assignments whose target turned out to be live in another chunk than what they read. */
  private readonly active: Uint8Array
  private readonly again = new Set<number>()
  /** Of the chunk that is looked at: live on coming into a beat, after its scene's own entries were set anew. */
  private readonly live: Int32Array
  private readonly work: Worklist
  private chunk = 0
  /** Of that chunk: whether a beat names one of its slots; whether one of them is a scene's own. */
  readonly names: Uint8Array
  private owned = false
  /** Of that chunk: what is looked at wherever the story rests, and what is kept at some beats. */
  private watched = 0
  private readonly keptAt: Int32Array
  /** Of that chunk: the ranks between which beats are looked at. */
  private lowest = NEVER
  private highest = -1
  /** Whether some slot of a chunk is a scene's own. */
  private readonly ownedWords: Uint8Array
  private readonly seen: Uint8Array
  /** Whether any road comes to a beat. */
  readonly reached: Uint8Array
  private readonly looked: Int32Array
  private base = 0
  private readonly heldSlots: HeldSlots
  private readonly firstQuest: number
  /** By chunk: the slots of quests that can come to an outcome. */
  private readonly endingQuests: Int32Array

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    private readonly roads: FlowGraph,
    private readonly horizon: QuestHorizon,
    private readonly observed: Observed,
    private readonly held: boolean,
  ) {
    const { length } = story.beats
    this.chunks = Math.max(1, Math.ceil(slots.all.length / 32))
    this.variables = variablesOf(story)
    this.everywhere = new Int32Array(this.chunks)
    const always = (slot: number) => {
      this.everywhere[slot >>> 5]! |= 1 << (slot & 31)
    }
    if (observed.promises)
      for (const promise of story.promises)
        for (const expr of promiseParts(promise))
          for (const variable of variablesRead(story, this.variables, expr)) always(slots.ofVariable[variable]!)
    for (const slot of observed.keep) always(slot)
    const given = givenPlan(story, slots, observed)
    for (const slot of given.held) always(slot)
    this.anew = new Int32Array(this.chunks)
    for (const slot of given.free) this.anew[slot >>> 5]! |= 1 << (slot & 31)
    this.movesOn = beatsThatRead(roads, slots, [...given.free, ...given.held])
    this.chosen = new Int32Array(this.chunks)
    for (const slot of [...given.begin, ...given.held]) this.chosen[slot >>> 5]! |= 1 << (slot & 31)
    const own: Int32Array[] = []
    for (const entry of story.entries) {
      if (entry.scene === -1) continue
      const slot = slots.ofEntry[entry.index]!
      const mask = (own[entry.scene] ??= new Int32Array(this.chunks))
      mask[slot >>> 5]! |= 1 << (slot & 31)
    }
    this.own = own
    this.ownedWords = new Uint8Array(this.chunks)
    for (const masks of own) masks?.forEach((mask, chunk) => mask !== 0 && (this.ownedWords[chunk] = 1))
    this.scenes = Int32Array.from(story.beats, ({ scene }) => scene)
    this.firstEffect = new Int32Array(length + 1)
    roads.summaries.forEach(({ effects }, beat) => {
      this.firstEffect[beat + 1] = this.firstEffect[beat]! + effects.length
    })
    this.active = new Uint8Array(this.firstEffect[length]!)
    this.live = new Int32Array(length)
    this.keptAt = new Int32Array(length)
    this.work = new Worklist(roads.order.toReversed())
    this.names = new Uint8Array(length)
    this.seen = new Uint8Array(length)
    this.reached = Uint8Array.from(story.beats, ({ index }) => (isEmpty(roads.placesBefore, index) ? 0 : 1))
    this.looked = new Int32Array(length)
    this.heldSlots = new HeldSlots(story, roads, horizon, !held)
    this.namers = this.beatsByWord()
    // the slots of quests follow one another
    this.firstQuest = slots.ofQuest[0] ?? 0
    this.endingQuests = new Int32Array(this.chunks)
    for (const { index, outcomes } of story.quests) {
      const slot = slots.ofQuest[index]!
      if (outcomes.some((outcome) => outcome !== undefined)) this.endingQuests[slot >>> 5]! |= 1 << (slot & 31)
    }
  }

  /** `before`: an analysis whose roads, slots and questions are the same, and the chunks in which beats name other variables now. */
  run(before?: { readonly analysis: Analysis; readonly chunks: ReadonlySet<number> }): Liveness {
    const { results, again } = this
    for (let chunk = 0; chunk < this.chunks; chunk += 1) {
      const known = before === undefined || before.chunks.has(chunk) ? undefined : before.analysis.results[chunk]
      if (known === undefined) again.add(chunk)
      else results[chunk] = known
    }
    const looked = new Set<number>()
    // what a chunk makes live in one that was looked at before is looked at again
    for (const chunk of again) {
      again.delete(chunk)
      looked.add(chunk)
      results[chunk] = this.look(chunk)
    }
    let isSame = before !== undefined
    for (const chunk of looked) {
      const was = before?.analysis.results[chunk]
      isSame &&=
        was !== undefined &&
        sameChunks(was.atRest, results[chunk]!.atRest) &&
        sameChunks(was.stuck, results[chunk]!.stuck)
    }
    const afterLines = (beat: number) => {
      const row = new SlotChunks(1)
      for (let chunk = 0; chunk < this.chunks; chunk += 1) row.add(0, chunk, this.shownAfterLines(chunk, beat))
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

  /** Whether an assignment was found to keep alive what it reads in another chunk: what each chunk says then depends on others. */
  get reachesAcross(): boolean {
    return this.active.includes(1)
  }

  private everyAfterLines(): SlotChunks {
    const { length } = this.story.beats
    const rows = new SlotChunks(length)
    this.results.forEach(({ beats, live }, chunk) => {
      this.turnTo(chunk)
      beats.forEach((beat, at) => (this.live[beat] = live[at]!))
      for (let beat = 0; beat < length; beat += 1) rows.add(beat, chunk, this.afterLinesOrUnchanged(chunk, beat))
      for (const beat of beats) this.live[beat] = 0
    })
    return rows
  }

  /** What is live after a beat's lines, or can't have changed by then. */
  private shownAfterLines(chunk: number, beat: number): number {
    const { beats, live } = this.results[chunk]!
    this.turnTo(chunk)
    for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = live[at]!
    const shown = this.afterLinesOrUnchanged(chunk, beat)
    for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = 0
    return shown
  }

  private afterLinesOrUnchanged(chunk: number, beat: number): number {
    if (this.held && this.roads.layerOf[beat]! < this.lowest) return this.bitsOf(chunk)
    // what is noted somewhere ahead of a beat that can still set it is carried by every road to the beat
    return this.afterLines(beat, this.atRest(beat)) | this.noted(this.horizon.ahead, beat)
  }

  /** All slots of a chunk. */
  private bitsOf(chunk: number): number {
    const count = Math.min(32, this.slots.all.length - chunk * 32)
    return count === 32 ? -1 : (1 << count) - 1
  }

  private rows(of: (result: WordResult) => ChunkByBeat): SlotChunks {
    const rows = new SlotChunks(this.story.beats.length)
    this.results.forEach((result, chunk) => {
      const { beats, bits } = of(result)
      for (let at = 0; at < beats.length; at += 1) rows.add(beats[at]!, chunk, bits[at]!)
    })
    return rows
  }

  /** Looks at another chunk from now on. */
  private turnTo(chunk: number): void {
    for (const beat of this.namers[this.chunk]!) this.names[beat] = 0
    for (const beat of this.observed.keepAt?.[this.chunk]?.beats ?? []) this.keptAt[beat] = 0
    this.chunk = chunk
    const kept = this.observed.keepAt?.[chunk]
    kept?.beats.forEach((beat, at) => (this.keptAt[beat] = kept.bits[at]!))
    this.lowest = NEVER
    this.highest = -1
    const { layerOf: rankOf } = this.roads
    for (const beat of this.namers[chunk]!) {
      this.names[beat] = 1
      if (this.reached[beat] === 0) continue
      if (rankOf[beat]! < this.lowest) this.lowest = rankOf[beat]!
      if (rankOf[beat]! > this.highest) this.highest = rankOf[beat]!
    }
    this.watched = this.everywhere[chunk]!
    if (this.watched !== 0 || this.keepsSome) this.highest = NEVER
    // what is chosen before the beginning is looked at from there on
    if (!this.held || this.chosen[chunk] !== 0) this.lowest = 0
    this.owned = this.ownedWords[chunk] === 1
  }

  private beatsByWord(): Int32Array[] {
    const lists = Array.from({ length: this.chunks }, (): number[] => [])
    const { ofVariable: ofThing } = this.slots
    this.roads.summaries.forEach(({ variables: variables }, beat) => {
      for (const variable of variables) {
        const slot = ofThing[variable]!
        if (slot === -1) continue
        const list = lists[slot >>> 5]!
        if (list.at(-1) !== beat) list.push(beat)
      }
    })
    return lists.map((list) => Int32Array.from(list))
  }

  /** What is looked at where the story rests at a beat. */
  watchedAt(beat: number): number {
    return this.watched | this.keptAt[beat]!
  }

  private get keepsSome(): boolean {
    return (this.observed.keepAt?.[this.chunk]?.beats.length ?? 0) > 0
  }

  get freed(): number {
    return this.anew[this.chunk]!
  }

  get begun(): number {
    return this.chosen[this.chunk]!
  }

  /** Of the chunk that is looked at: the beats that name one of its slots. */
  get named(): Int32Array {
    return this.namers[this.chunk]!
  }

  get notes(): boolean {
    return this.observed.quests && this.endingQuests[this.chunk] !== 0
  }

  /** Finds where slots of a chunk are live, and which of them states hold. */
  private look(chunk: number): WordResult {
    this.turnTo(chunk)
    const { work, live, names, owned, looked, seen, reached, lowest, highest } = this
    const { ahead, sources, layerOf: rankOf } = this.roads
    let count = 0
    const add = (beat: number) => {
      if (reached[beat] === 0 || rankOf[beat]! < lowest || rankOf[beat]! > highest) return
      if (seen[beat] === 0) {
        seen[beat] = 1
        looked[count++] = beat
      }
      work.add(beat)
    }
    const named = this.namers[chunk]!
    for (let at = 0; at < named.length; at += 1) add(named[at]!)
    if (this.watched !== 0 || this.keepsSome) for (let beat = 0; beat < reached.length; beat += 1) add(beat)
    for (let beat = work.take(); beat !== -1; beat = work.take()) {
      const before = live[beat]!
      let now = before
      if (names[beat] === 1 || owned) now |= this.back(beat, this.afterLines(beat, this.atRest(beat)))
      else {
        now |= this.watchedAt(beat)
        for (let at = ahead.first[beat]!; at < ahead.first[beat + 1]!; at += 1) now |= live[ahead.beats[at]!]!
      }
      if (now === before) continue
      live[beat] = now
      for (let at = sources.first[beat]!; at < sources.first[beat + 1]!; at += 1) add(sources.beats[at]!)
    }
    const beats = looked.slice(0, count)
    const held = this.heldSlots.of(this)
    const found = new Int32Array(count)
    for (let at = 0; at < count; at += 1) {
      const beat = beats[at]!
      found[at] = live[beat]!
      live[beat] = 0
      seen[beat] = 0
    }
    return { beats, live: found, ...held }
  }

  /** Quests of the chunk whose stage is noted for the findings about their end where the story rests at a beat. */
  noted({ words: chunks, bits }: BitRows, beat: number): number {
    if (!this.notes) return 0
    const mask = this.endingQuests[this.chunk]!
    // the row of quests, moved to where their slots stand in the chunk
    const row = beat * chunks
    const from = this.chunk * 32 - this.firstQuest
    if (from < 0) return (bits[row]! << -from) & mask
    const shift = from & 31
    const low = bits[row + (from >>> 5)]! >>> shift
    const next = (from >>> 5) + 1
    return (shift === 0 || next >= chunks ? low : low | (bits[row + next]! << (32 - shift))) & mask
  }

  atRest(beat: number): number {
    const watched = this.watchedAt(beat) | this.afterChange(beat)
    if (this.names[beat] === 1) return watched | this.steps(this.roads.summaries[beat]!.rest, 0, 0, beat)
    const { ending, ask } = this.story.beats[beat]!
    return ending !== -1
      ? watched
      : watched | this.from(ask === undefined ? this.roads.choices : this.roads.onward, beat)
  }

  /** What is live where the story may go on by itself from a rest, as something given changes. */
  afterChange(beat: number): number {
    if (this.movesOn[beat] === 0) return 0
    if (this.names[beat] === 0) return this.from(this.roads.onward, beat)
    return this.steps(this.roads.summaries[beat]!.onward, 0, 0, beat)
  }

  private afterLines(beat: number, rest: number): number {
    const { choices, ending, ask } = this.story.beats[beat]!
    if (choices.length === 0 && (ending !== -1 || ask !== undefined)) return rest
    if (this.names[beat] === 0) return rest | this.from(this.roads.onward, beat)
    return this.steps(this.roads.summaries[beat]!.onward, 0, rest, beat)
  }

  private back(beat: number, after: number): number {
    if (this.names[beat] === 0) return after | this.from(this.roads.redirects, beat)
    return this.steps(this.roads.summaries[beat]!.arrival, 0, after, beat)
  }

  /** What is live on some roads of a beat that names no slot of the chunk. */
  private from({ first, beats }: Adjacency, beat: number): number {
    let set = 0
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) set |= this.into(beats[at]!, beat)
    return set
  }

  /** What is live on going from one beat into another. */
  into(target: number, from: number): number {
    const live = this.live[target]!
    if (!this.owned) return live
    const scene = this.scenes[target]!
    const own = scene === this.scenes[from] ? undefined : this.own[scene]
    return own === undefined ? live : live & ~own[this.chunk]!
  }

  /** Follows steps back from what is live after them. */
  private steps(steps: readonly number[], start: number, after: number, beat: number, end = steps.length): number {
    const { ofVariable: ofThing } = this.slots
    let set = after
    let at = start
    while (at < end) {
      switch (steps[at]!) {
        case STEP.read:
          set |= this.bit(ofThing[steps[at + 1]!]!)
          at += 2
          break
        case STEP.shown:
          if (this.observed.unsetTexts) set |= this.bit(ofThing[steps[at + 1]!]!)
          at += 2
          break
        case STEP.kill:
          set &= ~this.bit(ofThing[steps[at + 1]!]!)
          at += 2
          break
        case STEP.effect:
          set = this.effect(steps, at + 1, set, beat)
          at += 6 + steps[at + 5]!
          break
        case STEP.stage: {
          const bit = this.bit(ofThing[steps[at + 1]!]!)
          if (steps[at + 2] === 0) set &= ~bit
          if (this.observed.quests && steps[at + 3] === 1) set |= bit
          at += 4
          break
        }
        case STEP.aside: {
          const next = at + 2 + steps[at + 1]!
          set |= this.steps(steps, at + 2, 0, beat, next)
          at = next
          break
        }
        case STEP.base:
          this.base = set
          at += 1
          break
        case STEP.variant: {
          const next = at + 2 + steps[at + 1]!
          const { base } = this
          set |= this.steps(steps, at + 2, base, beat, next)
          at = next
          break
        }
        case STEP.turns: {
          const next = at + 3 + steps[at + 2]!
          // a base within is not the one around it
          const { base } = this
          if (this.observed.turns.has(steps[at + 1]!)) set = this.steps(steps, at + 3, set, beat, next)
          this.base = base
          at = next
          break
        }
        case STEP.go:
          set |= this.into(steps[at + 1]!, beat)
          at += 2
          break
        case STEP.goBack:
          set |= this.from(this.roads.returns, beat)
          at += 1
          break
        default:
          assert(false, 'a flow has a step that is none')
      }
    }
    return set
  }

  private effect(steps: readonly number[], at: number, after: number, beat: number): number {
    const { ofVariable: ofThing } = this.slots
    const entry = steps[at]!
    const how = steps[at + 1]!
    const number = this.firstEffect[beat]! + steps[at + 3]!
    const target = ofThing[entry]!
    const bit = this.bit(target)
    let set = after
    const wasLive = (set & bit) !== 0
    if (steps[at + 2] === 0 && how !== EFFECT.change) set &= ~bit
    const needed =
      wasLive || this.active[number] === 1 || (how !== EFFECT.setLiteral && this.observed.overruns.has(entry))
    if (!needed) return set
    const reads = steps[at + 4]!
    for (let index = 0; index < reads; index += 1) {
      const slot = ofThing[steps[at + 5 + index]!]!
      set |= this.bit(slot)
      // what another chunk's slot needs is told to that chunk
      if (wasLive && slot >>> 5 !== this.chunk && this.active[number] === 0) this.again.add(slot >>> 5)
    }
    if (wasLive && reads > 0) this.active[number] = 1
    if (how !== EFFECT.change) return set
    return wasLive || this.observed.overruns.has(entry) ? set | bit : set
  }

  /** A slot's bit, where the chunk that is looked at has it. */
  private bit(slot: number): number {
    return slot >>> 5 === this.chunk && slot !== -1 ? 1 << (slot & 31) : 0
  }

  mask(variables: BeatSummary['variables']): number {
    let mask = 0
    for (let at = 0; at < variables.length; at += 1) mask |= this.bit(this.slots.ofVariable[variables[at]!]!)
    return mask
  }
}
