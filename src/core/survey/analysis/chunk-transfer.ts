import { assert } from '../../base/assert'
import type { LinkedStory } from '../../story/linked'
import type { BeatSummary } from '../summaries/beat-summary'
import { EFFECT, STEP } from '../summaries/flow'
import { each, type Adjacency } from './adjacency'
import { isEmpty, type BitRows } from './bits'
import type { ChunkMasks } from './chunk-masks'
import type { FlowGraph } from './flow-graph'
import type { ChunkView } from './held-slots'
import type { Observed } from './observed'
import type { Slots } from './slots'

/** Transfer functions of liveness for one chunk of 32 slots at a time: what is live before a step, from what is after it. */
export class ChunkTransfer implements ChunkView {
  /** Live on coming into a beat, after its scene's own entries were set anew. */
  live: Int32Array
  /** Whether any road comes to a beat. */
  readonly reached: Uint8Array
  /** Whether a beat names one of the slots. */
  readonly names: Uint8Array
  /** Whether a beat is looked at: where no road comes from a beat that names one of the slots, none can have changed. */
  inScope: Uint8Array
  /** Whether one of the slots is a scene's own. */
  owned = false
  /** Assignments whose target turned out to be live in another chunk than what they read. */
  private readonly active: Uint8Array
  /** The number of each beat's first effect. */
  private readonly firstEffect: Int32Array
  private scenesByBeat: Int32Array | undefined
  private chunk = 0
  /** What is looked at wherever the story rests, and what is kept at some beats. */
  private watched = 0
  private readonly keptAt: Int32Array
  private base = 0

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    private readonly roads: FlowGraph,
    private readonly observed: Observed,
    private readonly masks: ChunkMasks,
    /** Whether states hold only what can have changed. */
    private readonly held: boolean,
    /** Hears that slots of another chunk came to be live. */
    private readonly enliven: (chunk: number) => void,
  ) {
    const { length } = story.beats
    this.firstEffect = new Int32Array(length + 1)
    roads.summaries.forEach(({ effects }, beat) => {
      this.firstEffect[beat + 1] = this.firstEffect[beat]! + effects.length
    })
    this.active = new Uint8Array(this.firstEffect[length]!)
    this.live = new Int32Array(length)
    this.inScope = new Uint8Array(length)
    this.keptAt = new Int32Array(length)
    this.names = new Uint8Array(length)
    this.reached = new Uint8Array(length)
    for (let beat = 0; beat < length; beat += 1) this.reached[beat] = isEmpty(roads.placesBefore, beat) ? 0 : 1
  }

  /** Whether an assignment was found to keep alive what it reads in another chunk: what each chunk says then depends on others. */
  get reachesAcross(): boolean {
    return this.active.includes(1)
  }

  /** Looks at another chunk from now on, of which nothing is known, or what is live and where. */
  turnTo(chunk: number, known?: { readonly live: Int32Array; readonly inScope: Uint8Array }): void {
    for (const beat of this.masks.namers[this.chunk]!) this.names[beat] = 0
    for (const beat of this.observed.keepAt?.[this.chunk]?.beats ?? []) this.keptAt[beat] = 0
    this.chunk = chunk
    const kept = this.observed.keepAt?.[chunk]
    kept?.beats.forEach((beat, at) => (this.keptAt[beat] = kept.bits[at]!))
    const { masks } = this
    for (const beat of masks.namers[chunk]!) this.names[beat] = 1
    this.watched = masks.everywhere[chunk]!
    this.owned = masks.hasOwn[chunk] === 1
    this.live = known?.live ?? new Int32Array(this.live.length)
    this.inScope = known?.inScope ?? this.scope()
  }

  private scope(): Uint8Array {
    // what is chosen before the beginning is looked at from there on
    if (!this.held || this.masks.chosen[this.chunk] !== 0) return this.reached
    const inScope = new Uint8Array(this.reached.length)
    const { ahead } = this.roads
    const work: number[] = []
    const add = (beat: number) => {
      if (inScope[beat] === 1 || this.reached[beat] === 0) return
      inScope[beat] = 1
      work.push(beat)
    }
    for (const beat of this.named) add(beat)
    for (let beat = work.pop(); beat !== undefined; beat = work.pop()) each(ahead, beat, add)
    return inScope
  }

  /** What is live on coming into a beat, from what is on coming into those ahead. */
  before(beat: number): number {
    if (this.names[beat] === 1 || this.owned) return this.back(beat, this.afterLines(beat, this.atRest(beat)))
    let set = this.watchedAt(beat)
    const { first, beats } = this.roads.ahead
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) set |= this.live[beats[at]!]!
    return set
  }

  /** What is looked at where the story rests at a beat. */
  watchedAt(beat: number): number {
    return this.watched | this.keptAt[beat]!
  }

  /** Whether slots are looked at where no beat names them. */
  get watchesAll(): boolean {
    return this.watched !== 0 || (this.observed.keepAt?.[this.chunk]?.beats.length ?? 0) > 0
  }

  get freed(): number {
    return this.masks.anew[this.chunk]!
  }

  get begun(): number {
    return this.masks.chosen[this.chunk]!
  }

  get named(): Int32Array {
    return this.masks.namers[this.chunk]!
  }

  get notes(): boolean {
    return this.observed.quests && this.masks.endingQuests[this.chunk] !== 0
  }

  /** Quests of the chunk whose stage is noted for the findings about their end where the story rests at a beat. */
  noted({ words, bits }: BitRows, beat: number): number {
    if (!this.notes) return 0
    const mask = this.masks.endingQuests[this.chunk]!
    // the row of quests, moved to where their slots stand in the chunk
    const row = beat * words
    const from = this.chunk * 32 - this.masks.firstQuest
    if (from < 0) return (bits[row]! << -from) & mask
    const shift = from & 31
    const low = bits[row + (from >>> 5)]! >>> shift
    const next = (from >>> 5) + 1
    return (shift === 0 || next >= words ? low : low | (bits[row + next]! << (32 - shift))) & mask
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
    if (this.masks.movesOn[beat] === 0) return 0
    if (this.names[beat] === 0) return this.from(this.roads.onward, beat)
    return this.steps(this.roads.summaries[beat]!.onward, 0, 0, beat)
  }

  afterLines(beat: number, rest: number): number {
    const { choices, ending, ask } = this.story.beats[beat]!
    if (choices.length === 0 && (ending !== -1 || ask !== undefined)) return rest
    if (this.names[beat] === 0) return rest | this.from(this.roads.onward, beat)
    return this.steps(this.roads.summaries[beat]!.onward, 0, rest, beat)
  }

  back(beat: number, after: number): number {
    if (this.names[beat] === 0) return after | this.from(this.roads.redirects, beat)
    return this.steps(this.roads.summaries[beat]!.arrival, 0, after, beat)
  }

  /** What is live on some roads of a beat that names no slot of the chunk. */
  private from({ first, beats }: Adjacency, beat: number): number {
    let set = 0
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) set |= this.into(beats[at]!, beat)
    return set
  }

  private get scenes(): Int32Array {
    return (this.scenesByBeat ??= Int32Array.from(this.story.beats, ({ scene }) => scene))
  }

  /** What is live on going from one beat into another. */
  into(target: number, from: number): number {
    const live = this.live[target]!
    if (!this.owned) return live
    const scene = this.scenes[target]!
    const own = scene === this.scenes[from] ? undefined : this.masks.own[scene]
    return own === undefined ? live : live & ~own[this.chunk]!
  }

  /** Follows steps back from what is live after them. */
  private steps(steps: readonly number[], start: number, after: number, beat: number, end = steps.length): number {
    const { ofVariable } = this.slots
    let set = after
    let at = start
    while (at < end) {
      switch (steps[at]!) {
        case STEP.read:
          set |= this.bit(ofVariable[steps[at + 1]!]!)
          at += 2
          break
        case STEP.shown:
          if (this.observed.unsetTexts) set |= this.bit(ofVariable[steps[at + 1]!]!)
          at += 2
          break
        case STEP.kill:
          set &= ~this.bit(ofVariable[steps[at + 1]!]!)
          at += 2
          break
        case STEP.effect:
          set = this.effect(steps, at + 1, set, beat)
          at += 6 + steps[at + 5]!
          break
        case STEP.stage: {
          const bit = this.bit(ofVariable[steps[at + 1]!]!)
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
    const { ofVariable } = this.slots
    const entry = steps[at]!
    const how = steps[at + 1]!
    const number = this.firstEffect[beat]! + steps[at + 3]!
    const target = ofVariable[entry]!
    const bit = this.bit(target)
    let set = after
    const wasLive = (set & bit) !== 0
    if (steps[at + 2] === 0 && how !== EFFECT.change) set &= ~bit
    const needed =
      wasLive || this.active[number] === 1 || (how !== EFFECT.setLiteral && this.observed.overruns.has(entry))
    if (!needed) return set
    const reads = steps[at + 4]!
    for (let index = 0; index < reads; index += 1) {
      const slot = ofVariable[steps[at + 5 + index]!]!
      set |= this.bit(slot)
      // what another chunk's slot needs is told to that chunk
      if (wasLive && slot >>> 5 !== this.chunk && this.active[number] === 0) this.enliven(slot >>> 5)
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
