import type { Expr } from '../../expression/ast'
import type { Condition, LinkedBeat, LinkedEffect, LinkedRule, LinkedStory, Road } from '../../story/linked'
import { include, join, members } from '../bits'
import type { Flow } from '../flow'
import { readsOf } from '../liveness'
import type { Slots } from '../slots'
import { ownersOf, textsOf } from '../story-parts'
import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import { textArgument } from '../../story/text'

/**
 * Which slots the decisions of a resting beat can read, and at which beats they can come to rest:
 * what has to stand in the working vector before they are played. Worked out for a beat when it is
 * first rested at.
 */
export class Touched {
  private readonly reads: (Uint32Array | undefined)[] = []

  constructor(
    private readonly story: LinkedStory,
    private readonly slots: Slots,
    private readonly flow: Flow,
    private readonly words: number,
  ) {}

  /** Fills `set` with what is read by the beat's decisions and the runs that they start; gives the beats come to. */
  from(beat: number, set: Uint32Array): ReadonlySet<number> {
    const seen = new Set<number>()
    const stack: number[] = []
    const go = (from: LinkedBeat, road: Road) => {
      const targets = road.kind === 'beat' ? [road.beat] : road.kind === 'return' ? this.placesFrom(from) : []
      for (const target of targets) {
        if (seen.has(target)) continue
        seen.add(target)
        stack.push(target)
      }
    }
    const first = this.story.beats[beat]!
    join(set, this.readsIn(beat))
    for (const choice of first.choices) {
      if (choice.to.kind === 'road') go(first, choice.to.road)
      else for (const rule of choice.to.rules) go(first, rule.to)
    }
    for (const rule of first.onward) go(first, rule.to)
    while (stack.length > 0) {
      const index = stack.pop()!
      const next = this.story.beats[index]!
      join(set, this.readsIn(index))
      for (const rule of next.redirects) go(next, rule.to)
      if (next.ask === undefined) for (const rule of next.onward) go(next, rule.to)
    }
    return seen
  }

  private placesFrom(beat: LinkedBeat): number[] {
    const values = [...members(this.flow.places.row(beat.index)), ...members(this.flow.placesBefore.row(beat.index))]
    return values.filter((value) => value !== 0).map((value) => this.slots.places[value - 1]!)
  }

  private readsIn(beat: number): Uint32Array {
    return (this.reads[beat] ??= this.collect(this.story.beats[beat]!))
  }

  private collect(beat: LinkedBeat): Uint32Array {
    const set = new Uint32Array(this.words)
    const expr = (one: Expr | undefined) => {
      if (one !== undefined) for (const slot of readsOf(this.story, this.slots, one)) include(set, slot)
    }
    for (const owner of ownersOf(beat)) {
      expr((owner.when as Condition | undefined)?.expr)
      for (const effect of owner.effects) this.effect(set, effect, expr)
    }
    for (const choice of beat.choices) if (choice.once) include(set, this.slots.ofTaken[choice.index]!)
    if (returns(beat)) include(set, this.slots.place)
    if (this.slots.ofVisits[beat.index] !== -1) include(set, this.slots.ofVisits[beat.index]!)
    for (const text of textsOf(beat)) if (text.parsed !== undefined) this.shown(set, text.parsed)
    return set
  }

  /** What an effect changes it may also look at: its old value, its old stage. */
  private effect(set: Uint32Array, { effect }: LinkedEffect, expr: (one: Expr) => void): void {
    expr(effect.value)
    const { slots, story } = this
    include(set, effect.kind === 'stage' ? slots.ofQuest[story.questOf.get(effect.quest)!]! : slots.ofEntry[story.entryOf.get(effect.entry)!]!)
  }

  private shown(set: Uint32Array, parts: readonly MessageFormatElement[]): void {
    for (const part of parts) {
      if (part.type === TYPE.literal || part.type === TYPE.pound || part.type === TYPE.tag) continue
      const { of, id } = textArgument(part.value)
      include(set, of === 'quest' ? this.slots.ofQuest[this.story.questOf.get(id)!]! : this.slots.ofEntry[this.story.entryOf.get(id)!]!)
      if (part.type === TYPE.select || part.type === TYPE.plural) for (const option of Object.values(part.options)) this.shown(set, option.value)
    }
  }
}

function returns(beat: LinkedBeat): boolean {
  const back = (rule: LinkedRule) => rule.to.kind === 'return'
  return (
    beat.redirects.some(back) ||
    beat.onward.some(back) ||
    beat.choices.some((choice) => (choice.to.kind === 'road' ? choice.to.road.kind === 'return' : choice.to.rules.some(back)))
  )
}
