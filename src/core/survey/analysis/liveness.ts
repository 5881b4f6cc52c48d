import { assert } from '../../base/assert'
import type { LinkedStory } from '../../story/linked'
import type { Digest } from '../summaries/beat-summary'
import { EFFECT, STEP } from '../summaries/flow'
import { thingsOf, thingsRead, type Things } from '../summaries/variables'
import { saying } from '../summaries/flow-about'
import { HeldSlots, type Held, type WordView } from './held-slots'
import { isEmpty, type BitRows } from './bits'
import type { QuestHorizon } from './quest-horizon'
import type { Adjacency } from './adjacency'
import type { Roads } from './flow-graph'
import { sameRows, SlotRows, type BitsByBeat } from './slot-chunks'
import type { Slots } from './slots'
import { promiseParts } from '../summaries/linked-parts'
import { Worklist } from './worklist'

/** What is looked at besides the conditions of the story itself. */
export interface Observed {
  /** Indices of the entries whose range effects may leave. */
  readonly overruns: ReadonlySet<number>
  readonly unsetTexts: boolean
  readonly quests: boolean
  readonly promises: boolean
  /** Slots kept everywhere, for a question about them. */
  readonly keep: readonly number[]
}

/** What a state has to hold, by where it rests; slots in order. */
export interface Liveness {
  /** Live and possibly changed while the story rests at a beat. */
  readonly atRest: SlotRows
  /** The same where it is stuck after a word. */
  readonly stuck: SlotRows
  /** Slots that are live after a beat's lines, when its choices, its word or its roads on come; changed or not, and others that can't have changed. Worked out when asked for. */
  readonly afterLines: (beat: number) => number[]
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
 * Slots are taken 32 at a time, and for each such word only the beats are looked at that can lie
 * between one that names such a slot and one that asks for it: in a long story that is a small part.
 * Before them none can have changed, after them none is live. `held` off, for tests: all that is
 * live is held, changed or not.
 */
export function analyseLiveness(
  story: LinkedStory,
  slots: Slots,
  roads: Roads,
  horizon: QuestHorizon,
  observed: Observed,
  held = true,
): Liveness {
  return new Analysis(story, slots, roads, horizon, observed, held).run()
}

/**
 * The same after an edit, where slots, roads and what is observed have stayed: only the words are
 * looked at again about whose slots an edited beat says something else than before. `edited`: what
 * such beats say now, and said.
 */
export function updateLiveness(
  before: Liveness,
  story: LinkedStory,
  slots: Slots,
  roads: Roads,
  horizon: QuestHorizon,
  observed: Observed,
  edited: readonly (readonly [Digest, Digest])[],
): Liveness {
  const analysis = () => new Analysis(story, slots, roads, horizon, observed, true)
  if (before.analysis.reachesAcross) return analysis().run()
  const words = new Set<number>()
  for (const [now, then] of edited) {
    for (const thing of [...now.things, ...then.things]) {
      const slot = slots.ofThing[thing]!
      const word = slot >>> 5
      if (slot === -1 || words.has(word)) continue
      const about = (one: number) => slots.ofThing[one] !== -1 && slots.ofThing[one]! >>> 5 === word
      if (saying(now, about) !== saying(then, about)) words.add(word)
    }
  }
  return words.size === 0 ? { ...before, isSame: true } : analysis().run({ analysis: before.analysis, words })
}

/** What was found out about one word: the beats that were looked at, what is live on coming into them, what states hold. */
interface WordResult extends Held {
  readonly beats: Int32Array
  readonly live: Int32Array
}

/** After all ranks; a small number, as it stands among them. */
const NEVER = 2 ** 30 - 1

class Analysis implements WordView {
  private readonly results: WordResult[] = []
  private readonly words: number
  private readonly everywhere: Int32Array
  /** By scene: its own slots. */
  private readonly own: readonly (Int32Array | undefined)[]
  /** By word: the beats that name one of its slots. */
  private readonly namers: Int32Array[]
  private readonly things: Things
  private readonly scenes: Int32Array
  /** The number of each beat's first effect. */
  private readonly firstEffect: Int32Array
  /** Assignments whose target turned out to be live in another word than what they read. */
  private readonly active: Uint8Array
  private readonly again = new Set<number>()
  /** Of the word that is looked at: live on coming into a beat, after its scene's own entries were set anew. */
  private readonly live: Int32Array
  private readonly work: Worklist
  private word = 0
  /** Of that word: whether a beat names one of its slots; whether one of them is a scene's own. */
  readonly names: Uint8Array
  private owned = false
  /** Of that word: what is looked at wherever the story rests. */
  watched = 0
  /** Of that word: the ranks between which beats are looked at. */
  private lowest = NEVER
  private highest = -1
  /** Whether some slot of a word is a scene's own. */
  private readonly ownedWords: Uint8Array
  private readonly seen: Uint8Array
  /** Whether any road comes to a beat. */
  readonly reached: Uint8Array
  private readonly looked: Int32Array
  private base = 0
  private readonly heldSlots: HeldSlots
  private readonly firstQuest: number
  /** By word: the slots of quests that can come to an outcome. */
  private readonly endingQuests: Int32Array

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    private readonly roads: Roads,
    private readonly horizon: QuestHorizon,
    private readonly observed: Observed,
    private readonly held: boolean,
  ) {
    const { length } = story.beats
    this.words = Math.max(1, Math.ceil(slots.all.length / 32))
    this.things = thingsOf(story)
    this.everywhere = new Int32Array(this.words)
    const always = (slot: number) => {
      this.everywhere[slot >>> 5]! |= 1 << (slot & 31)
    }
    if (observed.promises)
      for (const promise of story.promises)
        for (const expr of promiseParts(promise))
          for (const thing of thingsRead(story, this.things, expr)) always(slots.ofThing[thing]!)
    for (const slot of observed.keep) always(slot)
    const own: Int32Array[] = []
    for (const entry of story.entries) {
      if (entry.scene === -1) continue
      const slot = slots.ofEntry[entry.index]!
      const mask = (own[entry.scene] ??= new Int32Array(this.words))
      mask[slot >>> 5]! |= 1 << (slot & 31)
    }
    this.own = own
    this.ownedWords = new Uint8Array(this.words)
    for (const masks of own) masks?.forEach((mask, word) => mask !== 0 && (this.ownedWords[word] = 1))
    this.scenes = Int32Array.from(story.beats, ({ scene }) => scene)
    this.firstEffect = new Int32Array(length + 1)
    roads.digests.forEach(({ effects }, beat) => {
      this.firstEffect[beat + 1] = this.firstEffect[beat]! + effects.length
    })
    this.active = new Uint8Array(this.firstEffect[length]!)
    this.live = new Int32Array(length)
    this.work = new Worklist(roads.order.toReversed())
    this.names = new Uint8Array(length)
    this.seen = new Uint8Array(length)
    this.reached = Uint8Array.from(story.beats, ({ index }) => (isEmpty(roads.placesBefore, index) ? 0 : 1))
    this.looked = new Int32Array(length)
    this.heldSlots = new HeldSlots(story, roads, horizon, !held)
    this.namers = this.beatsByWord()
    // the slots of quests follow one another
    this.firstQuest = slots.ofQuest[0] ?? 0
    this.endingQuests = new Int32Array(this.words)
    for (const { index, outcomes } of story.quests) {
      const slot = slots.ofQuest[index]!
      if (outcomes.some((outcome) => outcome !== undefined)) this.endingQuests[slot >>> 5]! |= 1 << (slot & 31)
    }
  }

  /** `before`: an analysis whose roads, slots and questions are the same, and the words in which beats name other things now. */
  run(before?: { readonly analysis: Analysis; readonly words: ReadonlySet<number> }): Liveness {
    const { results, again } = this
    for (let word = 0; word < this.words; word += 1) {
      const known = before === undefined || before.words.has(word) ? undefined : before.analysis.results[word]
      if (known === undefined) again.add(word)
      else results[word] = known
    }
    const looked = new Set<number>()
    // what a word makes live in one that was looked at before is looked at again
    for (const word of again) {
      again.delete(word)
      looked.add(word)
      results[word] = this.look(word)
    }
    let isSame = before !== undefined
    for (const word of looked) {
      const was = before?.analysis.results[word]
      isSame &&=
        was !== undefined && sameRows(was.atRest, results[word]!.atRest) && sameRows(was.stuck, results[word]!.stuck)
    }
    const afterLines = (beat: number) => {
      const row = new SlotRows(1)
      for (let word = 0; word < this.words; word += 1) row.add(0, word, this.shownAfterLines(word, beat))
      return row.slots(0)
    }
    return {
      atRest: this.rows(({ atRest }) => atRest),
      stuck: this.rows(({ stuck }) => stuck),
      afterLines,
      isSame,
      analysis: this,
    }
  }

  /** Whether an assignment was found to keep alive what it reads in another word: what each word says then depends on others. */
  get reachesAcross(): boolean {
    return this.active.includes(1)
  }

  /** What is live after a beat's lines, or can't have changed by then. */
  private shownAfterLines(word: number, beat: number): number {
    const { beats, live } = this.results[word]!
    this.turnTo(word)
    if (this.held && this.roads.rankOf[beat]! < this.lowest) return this.bitsOf(word)
    for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = live[at]!
    // what is noted somewhere ahead of a beat that can still set it is carried by every road to the beat
    const shown = this.afterLines(beat, this.atRest(beat)) | this.noted(this.horizon.ahead, beat)
    for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = 0
    return shown
  }

  /** All slots of a word. */
  private bitsOf(word: number): number {
    const count = Math.min(32, this.slots.all.length - word * 32)
    return count === 32 ? -1 : (1 << count) - 1
  }

  private rows(of: (result: WordResult) => BitsByBeat): SlotRows {
    const rows = new SlotRows(this.story.beats.length)
    this.results.forEach((result, word) => {
      const { beats, bits } = of(result)
      for (let at = 0; at < beats.length; at += 1) rows.add(beats[at]!, word, bits[at]!)
    })
    return rows
  }

  /** Looks at another word from now on. */
  private turnTo(word: number): void {
    for (const beat of this.namers[this.word]!) this.names[beat] = 0
    this.word = word
    this.lowest = NEVER
    this.highest = -1
    const { rankOf } = this.roads
    for (const beat of this.namers[word]!) {
      this.names[beat] = 1
      if (this.reached[beat] === 0) continue
      if (rankOf[beat]! < this.lowest) this.lowest = rankOf[beat]!
      if (rankOf[beat]! > this.highest) this.highest = rankOf[beat]!
    }
    this.watched = this.everywhere[word]!
    if (this.watched !== 0) this.highest = NEVER
    if (!this.held) this.lowest = 0
    this.owned = this.ownedWords[word] === 1
  }

  private beatsByWord(): Int32Array[] {
    const lists = Array.from({ length: this.words }, (): number[] => [])
    const { ofThing } = this.slots
    this.roads.digests.forEach(({ things }, beat) => {
      for (const thing of things) {
        const slot = ofThing[thing]!
        if (slot === -1) continue
        const list = lists[slot >>> 5]!
        if (list.at(-1) !== beat) list.push(beat)
      }
    })
    return lists.map((list) => Int32Array.from(list))
  }

  /** Of the word that is looked at: the beats that name one of its slots. */
  get named(): Int32Array {
    return this.namers[this.word]!
  }

  get notes(): boolean {
    return this.observed.quests && this.endingQuests[this.word] !== 0
  }

  /** Finds where slots of a word are live, and which of them states hold. */
  private look(word: number): WordResult {
    this.turnTo(word)
    const { work, live, names, owned, watched, looked, seen, reached, lowest, highest } = this
    const { ahead, sources, rankOf } = this.roads
    let count = 0
    const add = (beat: number) => {
      if (reached[beat] === 0 || rankOf[beat]! < lowest || rankOf[beat]! > highest) return
      if (seen[beat] === 0) {
        seen[beat] = 1
        looked[count++] = beat
      }
      work.add(beat)
    }
    const named = this.namers[word]!
    for (let at = 0; at < named.length; at += 1) add(named[at]!)
    if (watched !== 0) for (let beat = 0; beat < reached.length; beat += 1) add(beat)
    for (let beat = work.take(); beat !== -1; beat = work.take()) {
      const before = live[beat]!
      let now = before
      if (names[beat] === 1 || owned) now |= this.back(beat, this.afterLines(beat, this.atRest(beat)))
      else {
        now |= watched
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

  /** Quests of the word whose stage is noted for the findings about their end where the story rests at a beat. */
  noted({ words, bits }: BitRows, beat: number): number {
    if (!this.notes) return 0
    const mask = this.endingQuests[this.word]!
    // the row of quests, moved to where their slots stand in the word
    const row = beat * words
    const from = this.word * 32 - this.firstQuest
    if (from < 0) return (bits[row]! << -from) & mask
    const shift = from & 31
    const low = bits[row + (from >>> 5)]! >>> shift
    const next = (from >>> 5) + 1
    return (shift === 0 || next >= words ? low : low | (bits[row + next]! << (32 - shift))) & mask
  }

  atRest(beat: number): number {
    const { watched } = this
    if (this.names[beat] === 1) return watched | this.steps(this.roads.digests[beat]!.rest, 0, 0, beat)
    const { ending, ask } = this.story.beats[beat]!
    return ending !== -1
      ? watched
      : watched | this.from(ask === undefined ? this.roads.choices : this.roads.onward, beat)
  }

  private afterLines(beat: number, rest: number): number {
    const { choices, ending, ask } = this.story.beats[beat]!
    if (choices.length === 0 && (ending !== -1 || ask !== undefined)) return rest
    if (this.names[beat] === 0) return rest | this.from(this.roads.onward, beat)
    return this.steps(this.roads.digests[beat]!.onward, 0, rest, beat)
  }

  private back(beat: number, after: number): number {
    if (this.names[beat] === 0) return after | this.from(this.roads.redirects, beat)
    return this.steps(this.roads.digests[beat]!.arrival, 0, after, beat)
  }

  /** What is live on some roads of a beat that names no slot of the word. */
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
    return own === undefined ? live : live & ~own[this.word]!
  }

  /** Follows steps back from what is live after them. */
  private steps(steps: readonly number[], start: number, after: number, beat: number, end = steps.length): number {
    const { ofThing } = this.slots
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
    const { ofThing } = this.slots
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
      // what another word's slot needs is told to that word
      if (wasLive && slot >>> 5 !== this.word && this.active[number] === 0) this.again.add(slot >>> 5)
    }
    if (wasLive && reads > 0) this.active[number] = 1
    if (how !== EFFECT.change) return set
    return wasLive || this.observed.overruns.has(entry) ? set | bit : set
  }

  /** A slot's bit, where the word that is looked at has it. */
  private bit(slot: number): number {
    return slot >>> 5 === this.word && slot !== -1 ? 1 << (slot & 31) : 0
  }

  mask(things: Digest['things']): number {
    let mask = 0
    for (let at = 0; at < things.length; at += 1) mask |= this.bit(this.slots.ofThing[things[at]!]!)
    return mask
  }
}
