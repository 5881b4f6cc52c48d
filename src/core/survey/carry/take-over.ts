import { sceneOfAddress } from '../../base/address'
import { VISITS_MAX } from '../../base/limits'
import { carriedValue } from '../../play/save'
import type { LinkedEntry, LinkedStory } from '../../story/linked'
import { countOf } from '../../story/turns'
import { BitList, type ChunkByBeat, type SlotChunks } from '../analysis/slot-chunks'
import { allotSlots, type Slot, type Slots } from '../analysis/slots'
import type { Machine } from '../interpreter/machine'
import type { Search } from '../explicit/search'
import { slotNumber, slotTimes, slotValue } from '../states/slot-value'
import type { Demands, TurnCount } from '../summaries/demands'
import { classStarts } from '../summaries/given-classes'
import { usedEntries } from '../summaries/used-entries'
import { otherWord, wordDomains } from '../summaries/word-domains'

/**
 * Two versions of a story side by side: what the search over the old one has to tell apart besides, so that each of its
 * states says what the new one does with it, and how it is taken over.
 */
export interface Sides {
  readonly old: LinkedStory
  readonly now: LinkedStory
  readonly words: readonly string[]
}

/** Words that either version tells apart, with as many others as texts can hold at once. */
export function wordsOf(old: LinkedStory, now: LinkedStory): string[] {
  const words = new Set<string>()
  for (const story of [old, now]) {
    for (const { values, others } of wordDomains(story).values())
      values.slice(0, others).forEach((word) => words.add(word))
    for (const entry of story.entries) if (entry.kind === 'text') words.add(String(entry.initial))
  }
  const texts = Math.max(...[old, now].map(({ entries }) => entries.filter(({ kind }) => kind === 'text').length))
  for (let count = 0; count < texts; count += 1) words.add(otherWord(words))
  return [...words]
}

/** What the search over the old story tells apart for the new one. */
export function demandsOnOld({ old, now, words }: Sides): Demands {
  const own = allotSlots(now)
  const visits = new Map<number, number>()
  const taken = new Set<number>()
  for (const slot of own.all) {
    if (slot.kind === 'visits') {
      const beat = old.beatOf.get(now.beats[slot.beat]!.address)
      if (beat !== undefined) visits.set(beat, Math.min(VISITS_MAX, slot.max))
    }
    if (slot.kind === 'taken') {
      const choice = old.choiceOf.get(now.choices[slot.choice]!.address)
      if (choice !== undefined) taken.add(choice)
    }
  }
  return { visits, taken, words, cuts: cutsFor(old, now), turns: turnsFor(old, now) }
}

/** What the search over the new story tells apart, as words come over from the old one. */
export function demandsOnNew({ old, now, words }: Sides): Demands {
  return { visits: new Map(), taken: new Set(), words, cuts: new Map(), turns: turnsFor(now, old) }
}

/** Where classes of what the old story is given begin for the new one; undefined: it tells every value apart. */
function cutsFor(old: LinkedStory, now: LinkedStory): Demands['cuts'] {
  const cuts = new Map<number, readonly number[] | undefined>()
  const { written } = usedEntries(now)
  for (const entry of old.entries) {
    if (entry.given === undefined || (entry.kind !== 'counter' && entry.kind !== 'item')) continue
    const other = now.entries[now.entryOf.get(entry.id) ?? -1]
    if (other === undefined || (other.kind !== 'counter' && other.kind !== 'item')) continue
    cuts.set(entry.index, written[other.index] === 1 ? undefined : classStarts(now, other))
  }
  return cuts
}

function turnsFor(story: LinkedStory, other: LinkedStory): Map<number, TurnCount> {
  const turns = new Map<number, TurnCount>()
  for (const group of story.turnGroups) {
    const index = other.turnsOf.get(group.address)
    if (index !== undefined) turns.set(group.index, countOf(other.turnGroups[index]!))
  }
  return turns
}

/** What the search over the old story keeps besides what the old story itself still reads. */
export interface Kept {
  /** Slots kept wherever it rests: what is asked of every save. */
  readonly keep: readonly number[]
  /** By chunk: slots that the new story still reads where a save of a beat is taken up. */
  readonly keepAt: readonly ChunkByBeat[]
}

/**
 * Slots of the old story that the new one takes over, where they can make a difference there. `read`: what is read in
 * the new story from where it takes up a beat. `lost`: quests of the old story with stages that are gone.
 */
export function keptSlots(
  { old, now }: Sides,
  slots: Slots,
  to: Slots,
  read: SlotChunks,
  lost: ReadonlySet<number>,
): Kept {
  const before = to.all.map((slot) => oldSlot(old, now, slots, slot))
  const keep = new Set<number>()
  for (const { id, index, outcomes } of old.quests) {
    const other = now.quests[now.questOf.get(id) ?? -1]
    const hasOutcome = outcomes.some((one) => one !== undefined) && other?.outcomes.some((one) => one !== undefined)
    if (lost.has(index) || hasOutcome === true) keep.add(slots.ofQuest[index]!)
  }
  const keepAt = Array.from({ length: Math.ceil(slots.all.length / 32) }, () => new BitList())
  const all = before.filter((slot) => slot !== -1)
  for (const { index, address } of old.inOrder) {
    const other = now.beatOf.get(address)
    // a beat that is gone is left for the place or the start, where anything may be read
    const here = other === undefined ? [...all, slots.place] : read.slots(other).map((slot) => before[slot]!)
    const bits = new Int32Array(keepAt.length)
    for (const slot of here) if (slot !== -1) bits[slot >>> 5]! |= 1 << (slot & 31)
    bits.forEach((some, chunk) => keepAt[chunk]!.add(index, some))
  }
  return { keep: [...keep], keepAt: keepAt.map((list) => list.list()) }
}

/** The slot of the old story that a slot of the new one takes its value from, or -1. */
function oldSlot(old: LinkedStory, now: LinkedStory, slots: Slots, slot: Slot): number {
  switch (slot.kind) {
    case 'entry':
      return slots.ofEntry[old.entryOf.get(now.entries[slot.entry]!.id) ?? -1] ?? -1
    case 'quest':
      return slots.ofQuest[old.questOf.get(now.quests[slot.quest]!.id) ?? -1] ?? -1
    case 'visits':
      return slots.ofVisits[old.beatOf.get(now.beats[slot.beat]!.address) ?? -1] ?? -1
    case 'taken':
      return slots.ofTaken[old.choiceOf.get(now.choices[slot.choice]!.address) ?? -1] ?? -1
    case 'turns':
      return slots.ofTurns[old.turnsOf.get(now.turnGroups[slot.group]!.address) ?? -1] ?? -1
    case 'place':
      return slots.place
    case 'spare':
      return -1
  }
}

/** Takes states of the old story over into the working vector of the new one. */
export class TakeOver {
  /** By slot of the new story: what it becomes, by what stands in the old vector and the scene that the old one rests in. */
  private readonly rules: readonly ((from: Int32Array, scene: string) => number)[]

  constructor(
    private readonly sides: Sides,
    private readonly from: Search,
    private readonly to: Search,
  ) {
    this.rules = to.slots.all.map((slot) => this.ruleFor(slot))
  }

  /** What the playthrough that rests in a loaded state of the old story becomes; to be handed to the new search. */
  come(beat: number): (values: Int32Array, machine: Machine) => number {
    const scene = sceneOfAddress(this.sides.old.beats[beat]!.address)
    const { values: before } = this.from
    return (values, machine) => {
      this.rules.forEach((rule, slot) => {
        values[slot] = rule(before, scene)
      })
      return this.goOn(beat, values, machine)
    }
  }

  /** What a slot of the new story becomes, by what stands in an old vector and the scene that the old one rests in. */
  become(slot: number, before: Int32Array, scene: string): number {
    return this.rules[slot]!(before, scene)
  }

  /** The slot of the old story that a slot of the new one takes its value from, or -1. */
  sourceOf(slot: Slot): number {
    const { old, now } = this.sides
    return oldSlot(old, now, this.from.slots, slot)
  }

  /** Goes on, from where values were taken over, with a playthrough that rested at a beat of the old story. */
  goOn(beat: number, values: Int32Array, machine: Machine): number {
    const { old, now } = this.sides
    const { address } = old.beats[beat]!
    const at = now.beatOf.get(address)
    if (at !== undefined) return machine.takeUp(at)
    const place = values[this.to.slots.place]!
    const target = place === 0 ? now.start : this.to.slots.places[place - 1]!
    if (target === -1) return NOWHERE
    const scene = sceneOfAddress(address)
    return machine.resume(
      target,
      now.scenes.findIndex(({ id }) => id === scene),
    )
  }

  private ruleFor(slot: Slot): (from: Int32Array, scene: string) => number {
    const { old, now } = this.sides
    const { slots } = this.from
    const { initial } = slot
    const otherwise = () => initial
    switch (slot.kind) {
      case 'entry':
        return this.entryRule(now.entries[slot.entry]!, slot)
      case 'quest': {
        const quest = now.quests[slot.quest]!
        const other = old.quests[old.questOf.get(quest.id) ?? -1]
        if (other === undefined) return otherwise
        const at = slots.ofQuest[other.index]!
        const stages = other.stages.map((stage) => Math.max(0, quest.stages.indexOf(stage)))
        return (from) => stages[from[at]!]!
      }
      case 'visits': {
        const at = oldSlot(old, now, slots, slot)
        return at === -1 ? otherwise : (from) => Math.min(slot.max, from[at]!)
      }
      case 'taken': {
        const at = oldSlot(old, now, slots, slot)
        return at === -1 ? otherwise : (from) => from[at]!
      }
      case 'turns': {
        const at = oldSlot(old, now, slots, slot)
        return at === -1 ? otherwise : (from) => slotTimes(slot, from[at]!)
      }
      case 'place': {
        const places = [0, ...slots.places.map((beat) => this.placeOf(old.beats[beat]!.address))]
        return (from) => places[from[slots.place]!]!
      }
      case 'spare':
        return otherwise
    }
  }

  private placeOf(address: string): number {
    const beat = this.sides.now.beatOf.get(address)
    return beat === undefined ? 0 : this.to.slots.placeOf[beat]!
  }

  private entryRule(entry: LinkedEntry, slot: Slot & { kind: 'entry' }): (from: Int32Array, scene: string) => number {
    const { old, now } = this.sides
    const other = old.entries[old.entryOf.get(entry.id) ?? -1]
    if (other === undefined) return () => slot.initial
    const before = this.from.slots.all[this.from.slots.ofEntry[other.index]!]!
    const known = new Map<number, number>()
    const carried = (value: number): number => {
      let now = known.get(value)
      if (now === undefined) {
        now = slotNumber(this.sides.now, slot, carriedValue(entry, slotValue(old, before, value)))
        known.set(value, now)
      }
      return now
    }
    const [was, is] = [other.scene, entry.scene].map((scene, at) =>
      scene === -1 ? undefined : (at === 0 ? old : now).scenes[scene]!.id,
    )
    return (from, scene) =>
      (was === undefined || was === scene) && (is === undefined || is === scene)
        ? carried(from[before.index]!)
        : slot.initial
  }
}

/** Where a playthrough comes to that has neither place nor start. */
export const NOWHERE = -3
