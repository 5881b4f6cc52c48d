import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { walk, type Expr } from '../expression/ast'
import type { Condition, LinkedBeat, LinkedChoice, LinkedEffect, LinkedRule, LinkedStory, LinkedText, Road } from '../story/linked'
import { textArgument } from '../story/text'
import { exclude, has, include, join, members } from './bits'
import type { Flow } from './flow'
import type { QuestHorizon } from './quest-horizon'
import type { Slots } from './slots'
import { promiseParts } from './story-parts'
import { Worklist } from './worklist'

/**
 * Live-variable analysis (Aho, Lam, Sethi, Ullman: Compilers, 9.2.5) over the roads of the story.
 * A slot is live where some road from there reads it before setting it anew; where it is not, its
 * value can make no difference, and states that differ only in it are one. An assignment keeps
 * what it reads alive only where its target is live. What the findings look at counts as read.
 */
export interface Liveness {
  /** Live while the story rests at a beat, one row of `words` 32-bit words a beat. */
  readonly atRest: Uint32Array
  /** Looked at wherever the story rests at a beat, stuck there or not; rows as in `atRest`. */
  readonly observed: Uint32Array
  /** Live after a beat's lines, when its choices, its word or its roads on come; rows as in `atRest`. */
  readonly afterLines: Uint32Array
  readonly words: number
}

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


export function analyseLiveness(story: LinkedStory, slots: Slots, flow: Flow, horizon: QuestHorizon, order: Int32Array, observed: Observed): Liveness {
  return new Analysis(story, slots, flow, horizon, order, observed).run()
}

class Analysis {
  private readonly words: number
  /** Live on coming into a beat, after its scene's own entries were set anew. */
  private readonly live: Uint32Array
  private readonly atRest: Uint32Array
  private readonly afterLines: Uint32Array
  /** What is looked at wherever the story rests, by beat. */
  private readonly watched: Uint32Array
  private readonly own: readonly (readonly number[])[]
  private readonly reads = new Map<Expr, readonly number[]>()
  private readonly scratch: Uint32Array[]
  private depth = 0

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    private readonly flow: Flow,
    private readonly horizon: QuestHorizon,
    private readonly order: Int32Array,
    private readonly observed: Observed,
  ) {
    this.words = Math.max(1, Math.ceil(slots.all.length / 32))
    const rows = story.beats.length
    this.live = new Uint32Array(rows * this.words)
    this.atRest = new Uint32Array(rows * this.words)
    this.afterLines = new Uint32Array(rows * this.words)
    this.watched = this.observedRows()
    this.scratch = Array.from({ length: 8 }, () => new Uint32Array(this.words))
    const own: number[][] = []
    for (const entry of story.entries) if (entry.scene !== -1) (own[entry.scene] ??= []).push(slots.ofEntry[entry.index]!)
    this.own = own
  }

  run(): Liveness {
    const users = this.readers()
    const work = new Worklist(this.order.toReversed())
    work.addAll()
    for (let beat = work.take(); beat !== -1; beat = work.take()) {
      if (this.visit(this.story.beats[beat]!)) for (const user of users[beat] ?? []) work.add(user)
    }
    return { atRest: this.atRest, observed: this.watched, afterLines: this.afterLines, words: this.words }
  }

  /** For every beat those with a road to it, roads back to a place among them. */
  private readers(): number[][] {
    const users: number[][] = []
    const note = (target: number, from: number) => (users[target] ??= []).push(from)
    for (const beat of this.story.beats) {
      const targets = new Set<number>()
      for (const road of roadsOf(beat)) {
        if (road.kind === 'beat') targets.add(road.beat)
        if (road.kind === 'return') for (const place of this.placesFrom(beat)) targets.add(place)
      }
      for (const target of targets) note(target, beat.index)
    }
    return users
  }

  /** The places that a road back from the beat can lead to. */
  private placesFrom(beat: LinkedBeat): number[] {
    const values = new Set([...members(this.flow.places.row(beat.index)), ...(beat.redirects.length > 0 ? members(this.flow.placesBefore.row(beat.index)) : [])])
    values.delete(0)
    return [...values].map((value) => this.slots.places[value - 1]!)
  }

  private observedRows(): Uint32Array {
    const everywhere = new Uint32Array(this.words)
    if (this.observed.promises) {
      for (const promise of this.story.promises) for (const expr of promiseParts(promise)) this.gen(everywhere, expr)
    }
    for (const slot of this.observed.keep) include(everywhere, slot)
    const rows = new Uint32Array(this.story.beats.length * this.words)
    for (const { index } of this.story.beats) {
      const row = rows.subarray(index * this.words, (index + 1) * this.words)
      row.set(everywhere)
      if (!this.observed.quests) continue
      for (const quest of members(this.horizon.observed.row(index))) {
        const ends = this.story.quests[quest]!.outcomes.some((outcome) => outcome !== undefined)
        if (ends) include(row, this.slots.ofQuest[quest]!)
      }
    }
    return rows
  }

  private watchedAt(beat: LinkedBeat): Uint32Array {
    return this.watched.subarray(beat.index * this.words, (beat.index + 1) * this.words)
  }

  /** Works out a beat backwards, from its roads to its start; true when more became live at its start. */
  private visit(beat: LinkedBeat): boolean {
    const set = this.take()
    this.resting(set, beat)
    const rest = this.atRest.subarray(beat.index * this.words, (beat.index + 1) * this.words)
    rest.set(set)
    if (beat.choices.length > 0 || !isRest(beat)) this.genRoads(set, beat.onward, beat)
    this.afterLines.set(set, beat.index * this.words)
    for (let at = beat.lines.length - 1; at >= 0; at -= 1) {
      const line = beat.lines[at]!
      if (line.kind === 'line') {
        this.lineBack(set, line)
        continue
      }
      const after = this.take()
      after.set(set)
      for (const variant of line.variants) {
        const inner = this.take()
        inner.set(after)
        for (let number = variant.lines.length - 1; number >= 0; number -= 1) this.lineBack(inner, variant.lines[number]!)
        join(set, inner)
        this.genCondition(set, variant.when)
        this.release(1)
      }
      this.release(1)
    }
    for (let at = beat.arrive.length - 1; at >= 0; at -= 1) {
      const rule = beat.arrive[at]!
      this.effectsBack(set, rule.effects, rule.when !== undefined)
      this.genCondition(set, rule.when)
    }
    if (beat.place) exclude(set, this.slots.place)
    this.genRoads(set, beat.redirects, beat)
    const grown = join(this.live.subarray(beat.index * this.words, (beat.index + 1) * this.words), set)
    this.release(1)
    return grown
  }

  /** What a state resting at the beat must remember. */
  private resting(set: Uint32Array, beat: LinkedBeat): void {
    set.set(this.watchedAt(beat))
    if (beat.ending !== -1) return
    if (beat.ask !== undefined) {
      this.genRoads(set, beat.onward, beat)
      if (beat.ask.into !== -1) exclude(set, this.slots.ofEntry[beat.ask.into]!)
      join(set, this.watchedAt(beat))
      this.genShown(set, beat.ask.prompt)
      return
    }
    for (const choice of beat.choices) this.genChoice(set, choice, beat)
  }

  private genChoice(set: Uint32Array, choice: LinkedChoice, beat: LinkedBeat): void {
    const after = this.take()
    after.fill(0)
    if (choice.to.kind === 'road') this.genTarget(after, choice.to.road, beat)
    else this.genRoads(after, choice.to.rules, beat)
    this.effectsBack(after, choice.effects, false)
    const taken = this.slots.ofTaken[choice.index]!
    if (taken !== -1) exclude(after, taken)
    join(set, after)
    this.release(1)
    if (choice.once) include(set, taken)
    this.genCondition(set, choice.when)
    this.genShown(set, choice.text)
  }

  private genRoads(set: Uint32Array, rules: readonly LinkedRule[], beat: LinkedBeat): void {
    for (const rule of rules) {
      const after = this.take()
      after.fill(0)
      this.genTarget(after, rule.to, beat)
      this.effectsBack(after, rule.effects, false)
      join(set, after)
      this.release(1)
      this.genCondition(set, rule.when)
      if (rule.to.kind === 'return') include(set, this.slots.place)
    }
  }

  private genTarget(set: Uint32Array, road: Road, from: LinkedBeat): void {
    if (road.kind === 'nowhere') return
    if (road.kind === 'return') {
      include(set, this.slots.place)
      for (const place of this.placesFrom(from)) this.genBeat(set, place, from)
      return
    }
    this.genBeat(set, road.beat, from)
  }

  /** What is live on going from one beat into another. */
  private genBeat(set: Uint32Array, beat: number, from: LinkedBeat): void {
    const { scene } = this.story.beats[beat]!
    const row = beat * this.words
    if (scene === from.scene || this.own[scene] === undefined) {
      for (let word = 0; word < this.words; word += 1) set[word]! |= this.live[row + word]!
      return
    }
    const target = this.take()
    target.set(this.live.subarray(row, row + this.words))
    for (const slot of this.own[scene]!) exclude(target, slot)
    join(set, target)
    this.release(1)
  }

  private lineBack(set: Uint32Array, line: { when: Condition | undefined; effects: readonly LinkedEffect[]; text: LinkedText }): void {
    this.effectsBack(set, line.effects, line.when !== undefined)
    this.genShown(set, line.text)
    this.genCondition(set, line.when)
  }

  private effectsBack(set: Uint32Array, effects: readonly LinkedEffect[], maybe: boolean): void {
    for (let at = effects.length - 1; at >= 0; at -= 1) {
      const { effect } = effects[at]!
      if (effect.kind === 'stage') {
        const quest = this.story.quests[this.story.questOf.get(effect.quest)!]!
        const slot = this.slots.ofQuest[quest.index]!
        if (!maybe) exclude(set, slot)
        if (this.observed.quests && quest.moves !== undefined) include(set, slot)
        continue
      }
      const entry = this.story.entries[this.story.entryOf.get(effect.entry)!]!
      const slot = this.slots.ofEntry[entry.index]!
      const watched = this.observed.overruns.has(entry.index)
      const literalSet = effect.kind === 'set' && effect.value.kind === 'int'
      const wasLive = has(set, slot)
      if (!maybe && effect.kind === 'set') exclude(set, slot)
      if (wasLive || (watched && !literalSet)) {
        this.gen(set, effect.value)
        if (effect.kind !== 'set') include(set, slot)
      }
    }
  }

  private genCondition(set: Uint32Array, condition: Condition | undefined): void {
    if (condition?.expr !== undefined) this.gen(set, condition.expr)
  }

  private gen(set: Uint32Array, expr: Expr): void {
    let reads = this.reads.get(expr)
    if (reads === undefined) {
      reads = readsOf(this.story, this.slots, expr)
      this.reads.set(expr, reads)
    }
    for (const slot of reads) include(set, slot)
  }

  /** A text that may show an unset entry is read: the entry, and what chooses the form around it. */
  private genShown(set: Uint32Array, text: LinkedText): void {
    if (!this.observed.unsetTexts || text.parsed === undefined || !showsWords(this.story, text.parsed)) return
    const visit = (parts: readonly MessageFormatElement[]): void => {
      for (const part of parts) {
        if (part.type === TYPE.literal || part.type === TYPE.pound || part.type === TYPE.tag) continue
        const argument = textArgument(part.value)
        include(set, argument.of === 'quest' ? this.slots.ofQuest[this.story.questOf.get(argument.id)!]! : this.slots.ofEntry[this.story.entryOf.get(argument.id)!]!)
        if (part.type === TYPE.select || part.type === TYPE.plural) for (const option of Object.values(part.options)) visit(option.value)
      }
    }
    visit(text.parsed)
  }

  private take(): Uint32Array {
    const set = (this.scratch[this.depth] ??= new Uint32Array(this.words))
    this.depth += 1
    return set
  }

  private release(count: number): void {
    this.depth -= count
  }
}

/** The slots that an expression reads. */
export function readsOf(story: LinkedStory, slots: Slots, expr: Expr): number[] {
  const reads: number[] = []
  walk(expr, (part) => {
    if (part.kind === 'entry') reads.push(slots.ofEntry[story.entryOf.get(part.id)!]!)
    if (part.kind === 'quest') reads.push(slots.ofQuest[story.questOf.get(part.id)!]!)
    if (part.kind === 'visits') reads.push(slots.ofVisits[story.beatOf.get(part.beat)!]!)
    if (part.kind === 'taken') reads.push(slots.ofTaken[story.choiceOf.get(part.choice)!]!)
  })
  return reads
}

/** Whether some form of the text shows a text entry. */
export function showsWords(story: LinkedStory, elements: readonly MessageFormatElement[]): boolean {
  return elements.some((part) => {
    if (part.type === TYPE.argument) return story.entries[story.entryOf.get(part.value) ?? -1]?.kind === 'text'
    if (part.type === TYPE.select || part.type === TYPE.plural) {
      return Object.values(part.options).some((option) => showsWords(story, option.value))
    }
    return false
  })
}

function roadsOf(beat: LinkedBeat): Road[] {
  return [
    ...beat.redirects.map((rule) => rule.to),
    ...beat.onward.map((rule) => rule.to),
    ...beat.choices.flatMap((choice) => (choice.to.kind === 'road' ? [choice.to.road] : choice.to.rules.map((rule) => rule.to))),
  ]
}

function isRest(beat: LinkedBeat): boolean {
  return beat.ending !== -1 || beat.ask !== undefined
}
