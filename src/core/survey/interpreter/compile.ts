import { isExact } from '../summaries/number-bounds'
import { add, subtract } from '../../expression/integers'
import type { Expr } from '../../expression/ast'
import type { LinkedEffect } from '../../story/linked'
import type { Slot } from '../analysis/slots'
import { ConditionCompiler } from './condition-compiler'

export type Action = () => void

/** The same for effects. */
export class Compiler extends ConditionCompiler {
  effect(linked: LinkedEffect, owner: string): Action {
    const action = this.plainEffect(linked, owner)
    const { effect } = linked
    const touched = effect.kind === 'stage' ? [] : this.givenIn(effect.value)
    if (touched.length === 0) return action
    const { givens } = this
    return () => {
      for (let at = 0; at < touched.length; at += 1) givens.touch(touched[at]!)
      action()
    }
  }

  private plainEffect({ effect }: LinkedEffect, owner: string): Action {
    const { values, events, story } = this
    if (effect.kind === 'stage') return this.stageEffect(effect.quest, effect.value)
    const entry = story.entries[story.entryOf.get(effect.entry)!]!
    const slot = this.slots.all[this.slots.ofEntry[entry.index]!]!
    const at = slot.index
    switch (entry.kind) {
      case 'flag': {
        if (effect.value.kind === 'bool') {
          const value = effect.value.value ? 1 : 0
          return () => void (values[at] = value)
        }
        const value = this.test(effect.value)
        return () => void (values[at] = value() ? 1 : 0)
      }
      case 'switch':
      case 'text': {
        if (effect.value.kind === 'string') {
          const value = this.literalIn(slot, effect.value.value)
          return () => void (values[at] = value)
        }
        const from = this.slotOf(effect.value)!.index
        return () => void (values[at] = values[from]!)
      }
      case 'counter':
      case 'item': {
        const followed = this.follows(entry.index)
        const over = followed ? events.number('overrun', entry.id, owner) : -1
        const { min, max } = entry
        const sign = effect.kind === 'set' ? 0 : effect.kind === 'add' ? 1 : -1
        const wide = slot.kind === 'entry' ? slot.wide : undefined
        if (wide === undefined && isExact(this.story, effect.value) && sign !== 0 && effect.value.kind === 'int') {
          return this.adding(slot, sign * effect.value.value, entry, over)
        }
        const value = this.count(effect.value)
        return () => {
          const old = wide === undefined ? values[at]! : wide.values[values[at]!]!
          let next = sign === 0 ? value() : sign === 1 ? add(old, value()) : subtract(old, value())
          if (next > max) {
            next = max
            if (followed) events.record(over)
          } else if (next < min) {
            next = min
            if (followed) events.record(over)
          }
          values[at] = wide === undefined ? Number(next) : wide.indexOf(Number(next))
        }
      }
    }
  }

  /** Adds to a counter within its bounds, and records `over`, unless it is -1, where it would leave them. */
  protected adding(
    { index: at }: Slot,
    by: number,
    { min, max }: { readonly min: number; readonly max: number },
    over: number,
  ): Action {
    const { values, events } = this
    return () => {
      let next = values[at]! + by
      if (next > max) {
        next = max
        if (over !== -1) events.record(over)
      } else if (next < min) {
        next = min
        if (over !== -1) events.record(over)
      }
      values[at] = next
    }
  }

  /** Whether the search can tell when an effect takes the entry out of its range. */
  follows(entry: number): boolean {
    return this.followed.overruns.has(entry)
  }

  /** Whether the search tells the turns of a group apart. */
  followsTurns(group: number): boolean {
    return this.followed.turns.has(group)
  }

  /** The stage that is set, the event of its being reached (or -1), and by the stage it was at the event of an undeclared move (or -1). */
  stageMarks(
    id: string,
    value: Expr,
  ): { readonly stage: number; readonly reached: number; readonly moves: readonly number[] } {
    const { events, story } = this
    const quest = story.quests[story.questOf.get(id)!]!
    const stageId = value.kind === 'string' ? value.value : ''
    const stage = quest.stages.indexOf(stageId)
    const reached = stage === 0 ? -1 : events.number('stage', `${id}.${stageId}`)
    const moves = quest.stages.map((from, index) =>
      quest.moves === undefined || index === stage || quest.moves.has(`${from}>${stageId}`)
        ? -1
        : events.number('move', id, from, stageId),
    )
    return { stage, reached, moves }
  }

  private stageEffect(id: string, value: Expr): Action {
    const { values, events } = this
    const at = this.slots.ofQuest[this.story.questOf.get(id)!]!
    const { stage, reached, moves } = this.stageMarks(id, value)
    return () => {
      const move = moves[values[at]!]!
      if (move !== -1) events.record(move)
      if (reached !== -1) events.record(reached)
      values[at] = stage
    }
  }
}
