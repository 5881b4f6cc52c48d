import type { LinkedBeat, LinkedEffect, LinkedRule, LinkedStory, Road } from '../story/linked'
import { BitRows, exclude, include, join, members } from './bits'
import type { Slots } from './slots'
import { Worklist } from './worklist'

/**
 * Forward analysis over the roads of the story, all gates taken as open: which slots may differ
 * from their initial value at a beat, and which places may be the current one there. A slot that
 * nothing on the way can have changed needs no bits; a road back leads only to places that can
 * have been come to.
 */
export interface Flow {
  /** Slots that may have changed when a beat's choices, its word or its roads on come. */
  readonly changed: BitRows
  /** The same after a word was typed there, or a choice found closed. */
  readonly changedAfterWord: BitRows
  /** Possible values of the place slot at that moment: 0 for none, else 1 + an index into the places. */
  readonly places: BitRows
  /** Possible values of the place slot on coming into a beat. */
  readonly placesBefore: BitRows
}

export function analyseFlow(story: LinkedStory, slots: Slots, order: Int32Array): Flow {
  return new Analysis(story, slots, order).run()
}

class Analysis {
  private readonly changedIn: BitRows
  private readonly flow: Flow
  private readonly own: (readonly number[] | undefined)[] = []
  private readonly scratch: Uint32Array
  private readonly carried: Uint32Array
  private readonly work: Worklist
  private readonly reached: Uint8Array

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    order: Int32Array,
  ) {
    const { length } = story.beats
    const size = slots.all.length
    this.changedIn = new BitRows(length, size)
    this.flow = {
      changed: new BitRows(length, size),
      changedAfterWord: new BitRows(length, size),
      places: new BitRows(length, slots.places.length + 1),
      placesBefore: new BitRows(length, slots.places.length + 1),
    }
    this.scratch = new Uint32Array(this.changedIn.words)
    this.carried = new Uint32Array(this.changedIn.words)
    this.work = new Worklist(order)
    this.reached = new Uint8Array(length)
    const own: number[][] = []
    for (const entry of story.entries) if (entry.scene !== -1) (own[entry.scene] ??= []).push(slots.ofEntry[entry.index]!)
    this.own = own
  }

  run(): Flow {
    const { start } = this.story
    if (start === -1) return this.flow
    include(this.flow.placesBefore.row(start), 0)
    this.work.add(start)
    for (let beat = this.work.take(); beat !== -1; beat = this.work.take()) {
      this.reached[beat] = 1
      this.visit(this.story.beats[beat]!)
    }
    return this.flow
  }

  private visit(beat: LinkedBeat): void {
    const { flow, slots } = this
    const before = flow.placesBefore.row(beat.index)
    const now = this.scratch
    now.set(this.changedIn.row(beat.index))
    this.follow(beat, beat.redirects, now, before)
    const places = flow.places.row(beat.index)
    if (beat.place) include(places, slots.places.indexOf(beat.index) + 1)
    else join(places, before)
    if (beat.place) include(now, slots.place)
    if (slots.ofVisits[beat.index] !== -1) include(now, slots.ofVisits[beat.index]!)
    for (const rule of beat.arrive) this.write(now, rule.effects)
    for (const line of beat.lines) {
      if (line.kind === 'line') this.write(now, line.effects)
      else for (const variant of line.variants) for (const inner of variant.lines) this.write(now, inner.effects)
    }
    join(flow.changed.row(beat.index), now)
    for (const choice of beat.choices) {
      const after = this.carried
      after.set(now)
      const taken = slots.ofTaken[choice.index]!
      if (taken !== -1) include(after, taken)
      this.write(after, choice.effects)
      if (choice.to.kind === 'road') this.go(beat, choice.to.road, after, places)
      else this.follow(beat, choice.to.rules, after.slice(), places)
    }
    if (beat.ask !== undefined && beat.ask.into !== -1) include(now, slots.ofEntry[beat.ask.into]!)
    join(flow.changedAfterWord.row(beat.index), now)
    this.follow(beat, beat.onward, now, places)
  }

  private follow(from: LinkedBeat, rules: readonly LinkedRule[], changed: Uint32Array, places: Uint32Array): void {
    for (const rule of rules) {
      const after = this.carried
      after.set(changed)
      this.write(after, rule.effects)
      this.go(from, rule.to, after, places)
    }
  }

  private go(from: LinkedBeat, road: Road, changed: Uint32Array, places: Uint32Array): void {
    if (road.kind === 'nowhere') return
    if (road.kind === 'beat') return this.enter(from, road.beat, changed, places)
    for (const value of members(places)) if (value !== 0) this.enter(from, this.slots.places[value - 1]!, changed, places)
  }

  private enter(from: LinkedBeat, target: number, changed: Uint32Array, places: Uint32Array): void {
    const { scene } = this.story.beats[target]!
    const own = scene === from.scene ? undefined : this.own[scene]
    let into = changed
    if (own !== undefined) {
      into = changed.slice()
      for (const slot of own) exclude(into, slot)
    }
    const grewSlots = join(this.changedIn.row(target), into)
    const grewPlaces = join(this.flow.placesBefore.row(target), places)
    if (grewSlots || grewPlaces || this.reached[target] === 0) this.work.add(target)
  }

  private write(set: Uint32Array, effects: readonly LinkedEffect[]): void {
    for (const { effect } of effects) {
      if (effect.kind === 'stage') include(set, this.slots.ofQuest[this.story.questOf.get(effect.quest)!]!)
      else include(set, this.slots.ofEntry[this.story.entryOf.get(effect.entry)!]!)
    }
  }
}
