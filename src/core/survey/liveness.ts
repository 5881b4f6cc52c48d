import type { LinkedStory } from '../story/linked'
import { EFFECT, STEP, thingsOf, thingsRead, type Digest, type Things, type Way } from './digest'
import type { QuestHorizon } from './quest-horizon'
import type { Roads, Targets } from './roads'
import type { Slots } from './slots'
import { promiseParts } from './story-parts'
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
  /** Slots that are live after a beat's lines, when its choices, its word or its roads on come; changed or not. Worked out when asked for. */
  readonly afterLines: (beat: number) => number[]
}

/**
 * Live-variable analysis (Aho, Lam, Sethi, Ullman: Compilers, 9.2.5) over the roads of the story.
 * A slot is live where some road from there reads it before setting it anew; where it is not, its
 * value can make no difference, and states that differ only in it are one. An assignment keeps
 * what it reads alive only where its target is live. What the findings look at counts as read. Of
 * what is live, only that needs to be held which something on the way can have changed.
 *
 * Slots are taken 32 at a time, and for each such word only the beats are looked at where one of
 * them is live: in a long story that is a small part. `held` off, for tests: all that is live is
 * held, changed or not.
 */
export function analyseLiveness(story: LinkedStory, slots: Slots, roads: Roads, horizon: QuestHorizon, observed: Observed, held = true): Liveness {
  return new Analysis(story, slots, roads, horizon, observed, held).run()
}

type Held = Omit<Liveness, 'afterLines'>

class Analysis {
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
  private readonly names: Uint8Array
  private owned = false
  /** Of that word: what is looked at wherever the story rests at a beat. */
  private readonly watched: Int32Array
  private readonly seen: Uint8Array
  private readonly looked: Int32Array
  private base = 0
  /** Of the word that is looked at: what can have changed on coming into a beat. */
  private readonly changed: Int32Array
  private readonly forward: Worklist
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
    if (observed.promises) for (const promise of story.promises) for (const expr of promiseParts(promise)) for (const thing of thingsRead(story, this.things, expr)) always(slots.ofThing[thing]!)
    for (const slot of observed.keep) always(slot)
    const own: Int32Array[] = []
    for (const entry of story.entries) {
      if (entry.scene === -1) continue
      const slot = slots.ofEntry[entry.index]!
      const mask = (own[entry.scene] ??= new Int32Array(this.words))
      mask[slot >>> 5]! |= 1 << (slot & 31)
    }
    this.own = own
    this.scenes = Int32Array.from(story.beats, ({ scene }) => scene)
    this.firstEffect = new Int32Array(length + 1)
    roads.digests.forEach(({ effects }, beat) => {
      this.firstEffect[beat + 1] = this.firstEffect[beat]! + effects.length
    })
    this.active = new Uint8Array(this.firstEffect[length]!)
    this.live = new Int32Array(length)
    this.work = new Worklist(roads.order.toReversed())
    this.changed = new Int32Array(length)
    this.names = new Uint8Array(length)
    this.seen = new Uint8Array(length)
    this.watched = new Int32Array(length)
    this.looked = new Int32Array(length)
    this.forward = new Worklist(roads.order)
    this.namers = this.beatsByWord()
    // the slots of quests follow one another
    this.firstQuest = slots.ofQuest[0] ?? 0
    this.endingQuests = new Int32Array(this.words)
    for (const { index, outcomes } of story.quests) {
      const slot = slots.ofQuest[index]!
      if (outcomes.some((outcome) => outcome !== undefined)) this.endingQuests[slot >>> 5]! |= 1 << (slot & 31)
    }
  }

  run(): Liveness {
    const { length } = this.story.beats
    for (let word = 0; word < this.words; word += 1) this.again.add(word)
    // what a word makes live in one that was looked at before is looked at again
    const settled = new Map<number, { beats: Int32Array; live: Int32Array }>()
    for (const word of this.again) {
      this.again.delete(word)
      settled.set(word, this.settle(word))
    }
    const rows: Held = { atRest: new SlotRows(length), stuck: new SlotRows(length) }
    /** Does something with what was found out about a word in its place. */
    const within = (word: number, work: (beats: Int32Array) => void) => {
      const { beats, live } = settled.get(word)!
      this.turnTo(word)
      for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = live[at]!
      work(beats)
      for (let at = 0; at < beats.length; at += 1) this.live[beats[at]!] = 0
    }
    for (let word = 0; word < this.words; word += 1) within(word, (beats) => this.hold(beats, rows))
    const afterLines = (beat: number) => {
      const row = new SlotRows(1)
      for (let word = 0; word < this.words; word += 1) within(word, () => row.add(0, word, this.afterLines(beat, this.atRest(beat))))
      return row.slots(0)
    }
    return { ...rows, afterLines }
  }

  /** Looks at another word from now on. */
  private turnTo(word: number): void {
    for (const beat of this.namers[this.word]!) this.names[beat] = 0
    this.word = word
    for (const beat of this.namers[word]!) this.names[beat] = 1
    this.owned = this.own.some((masks) => masks !== undefined && masks[word] !== 0)
    this.watch()
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

  /** Finds where slots of a word are live; gives the beats that were looked at, each once, and what is live on coming into them. */
  private settle(word: number): { beats: Int32Array; live: Int32Array } {
    this.turnTo(word)
    const { work, live, names, owned, watched, looked, seen } = this
    const { ahead, sources } = this.roads
    let count = 0
    const add = (beat: number) => {
      if (seen[beat] === 0) {
        seen[beat] = 1
        looked[count++] = beat
      }
      work.add(beat)
    }
    const named = this.namers[word]!
    for (let at = 0; at < named.length; at += 1) add(named[at]!)
    for (let beat = 0; beat < watched.length; beat += 1) if (watched[beat] !== 0) add(beat)
    for (let beat = work.take(); beat !== -1; beat = work.take()) {
      const before = live[beat]!
      let now = before
      if (names[beat] === 1 || owned) now |= this.back(beat, this.afterLines(beat, this.atRest(beat)))
      else {
        now |= watched[beat]!
        for (let at = ahead.first[beat]!; at < ahead.first[beat + 1]!; at += 1) now |= live[ahead.beats[at]!]!
      }
      if (now === before) continue
      live[beat] = now
      for (let at = sources.first[beat]!; at < sources.first[beat + 1]!; at += 1) add(sources.beats[at]!)
    }
    const beats = looked.slice(0, count)
    const found = new Int32Array(count)
    for (let at = 0; at < count; at += 1) {
      const beat = beats[at]!
      found[at] = live[beat]!
      live[beat] = 0
      seen[beat] = 0
    }
    return { beats, live: found }
  }

  /** Notes what of the word is looked at wherever the story rests. */
  private watch(): void {
    const { watched } = this
    watched.fill(this.everywhere[this.word]!)
    const mask = this.endingQuests[this.word]!
    if (!this.observed.quests || mask === 0) return
    // the rows of quests, moved to where their slots stand in the word
    const { words, bits } = this.horizon.observed
    const from = this.word * 32 - this.firstQuest
    const shift = from & 31
    const high = from < 0 || shift === 0 || (from >>> 5) + 1 >= words ? -1 : (from >>> 5) + 1
    for (let beat = 0; beat < watched.length; beat += 1) {
      const row = beat * words
      const low = from < 0 ? bits[row]! << -from : bits[row + (from >>> 5)]! >>> shift
      watched[beat]! |= (high === -1 ? low : low | (bits[row + high]! << (32 - shift))) & mask
    }
  }

  private atRest(beat: number): number {
    const watched = this.watched[beat]!
    if (this.names[beat] === 1) return watched | this.steps(this.roads.digests[beat]!.rest, 0, 0, beat)
    const { ending, ask } = this.story.beats[beat]!
    return ending !== -1 ? watched : watched | this.from(ask === undefined ? this.roads.choices : this.roads.onward, beat)
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
  private from({ first, beats }: Targets, beat: number): number {
    let set = 0
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) set |= this.into(beats[at]!, beat)
    return set
  }

  /** What is live on going from one beat into another. */
  private into(target: number, from: number): number {
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
      switch (steps[at]) {
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
        default: {
          set |= this.from(this.roads.returns, beat)
          at += 1
        }
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
    const needed = wasLive || this.active[number] === 1 || (how !== EFFECT.setLiteral && this.observed.overruns.has(entry))
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

  /** Adds the slots of a word that states hold to their rows: forward over the roads from what is set. */
  private hold(beats: Int32Array, rows: Held): void {
    const { changed, forward: work } = this
    const { ahead, digests } = this.roads
    const touched: number[] = []
    const enter = (target: number, bits: number, from: number) => {
      const more = bits & this.into(target, from) & ~changed[target]!
      if (more === 0) return
      if (changed[target] === 0) touched.push(target)
      changed[target]! |= more
      work.add(target)
    }
    const { first, beats: places } = this.roads.returns
    const follow = (beat: number, ways: readonly Way[], now: number) => {
      for (const { to, sets } of ways) {
        const after = now | this.mask(sets)
        if (after === 0) continue
        if (to >= 0) enter(to, after, beat)
        else for (let at = first[beat]!; at < first[beat + 1]!; at += 1) enter(places[at]!, after, beat)
      }
    }
    const pass = (beat: number) => {
      const { ways } = digests[beat]!
      if (this.names[beat] === 0) {
        const now = changed[beat]!
        for (let at = ahead.first[beat]!; at < ahead.first[beat + 1]!; at += 1) enter(ahead.beats[at]!, now, beat)
        return
      }
      follow(beat, ways.redirects, changed[beat]!)
      const now = changed[beat]! | this.mask(ways.body)
      follow(beat, ways.choices, now)
      follow(beat, ways.onward, ways.into === -1 ? now : now | this.bit(this.slots.ofEntry[ways.into]!))
    }
    if (this.held) {
      for (const beat of this.namers[this.word]!) if (this.isReached(beat)) work.add(beat)
      for (let beat = work.take(); beat !== -1; beat = work.take()) pass(beat)
    }
    for (let index = 0; index < beats.length; index += 1) {
      const beat = beats[index]!
      const { body, into } = digests[beat]!.ways
      const now = !this.held ? -1 : this.names[beat] === 0 ? changed[beat]! : changed[beat]! | this.mask(body)
      if ((now === 0 && into === -1) || !this.isReached(beat)) continue
      rows.atRest.add(beat, this.word, this.atRest(beat) & now)
      if (this.story.beats[beat]!.ask === undefined) continue
      rows.stuck.add(beat, this.word, this.watched[beat]! & (into === -1 ? now : now | this.bit(this.slots.ofEntry[into]!)))
    }
    for (const beat of touched) changed[beat] = 0
  }

  private isReached(beat: number): boolean {
    const { words, bits } = this.roads.placesBefore
    for (let word = 0; word < words; word += 1) if (bits[beat * words + word] !== 0) return true
    return false
  }

  private mask(things: Digest['things']): number {
    let mask = 0
    for (let at = 0; at < things.length; at += 1) mask |= this.bit(this.slots.ofThing[things[at]!]!)
    return mask
  }
}

/** Sets of slots by beat, most of them small: for each beat the words that are not empty. */
export class SlotRows {
  private readonly rows: (number[] | undefined)[]

  constructor(length: number) {
    this.rows = new Array<number[] | undefined>(length)
  }

  /** Words come in their order. */
  add(row: number, word: number, bits: number): void {
    if (bits === 0) return
    const known = this.rows[row]
    if (known === undefined) this.rows[row] = [word, bits]
    else known.push(word, bits)
  }

  slots(row: number): number[] {
    const found: number[] = []
    const words = this.rows[row] ?? []
    for (let at = 0; at < words.length; at += 2) {
      for (let rest = words[at + 1]!; rest !== 0; rest &= rest - 1) found.push(words[at]! * 32 + 31 - Math.clz32(rest & -rest))
    }
    return found
  }
}
