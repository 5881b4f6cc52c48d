import type { LinkedEffect, LinkedText } from '../../story/linked'
import type { Slot } from '../analysis/slots'
import { isSmall, isSmallSum } from '../summaries/number-bounds'
import { CodeWriter } from './code-writer'
import { writeShown } from './shown-writer'
import { binary, constant, get, NOTHING, OP, select, set, when } from './wasm'

/** Emits what effects change, and what texts show. */
export abstract class EffectWriter extends CodeWriter {
  shown(text: LinkedText, address: string): void {
    if (this.quiet || text.isPlain || text.parsed === undefined) return
    writeShown(this.parts.compiler, text.parsed, address, {
      read: (slot) => this.read(slot),
      event: (number) => this.event(number),
      emit: (code) => this.branch(code),
      capture: (work) => this.capture(work),
      refuse: () => (this.supported = false),
    })
  }

  protected effects(effects: readonly LinkedEffect[], owner: string): void {
    for (const { effect } of effects) {
      const slot = this.slotOfEffect(effect)
      if (effect.kind === 'stage') this.stage(effect, slot)
      else this.assign(effect, slot, owner)
    }
  }

  protected slotOfEffect(effect: LinkedEffect['effect']): Slot {
    const { slots } = this.parts.compiler
    const { questOf, entryOf } = this.parts.story
    return slots.all[
      effect.kind === 'stage' ? slots.ofQuest[questOf.get(effect.quest)!]! : slots.ofEntry[entryOf.get(effect.entry)!]!
    ]!
  }

  private stage(effect: LinkedEffect['effect'] & { kind: 'stage' }, slot: Slot): void {
    const { moves, stage, reached } = this.parts.compiler.stageMarks(effect.quest, effect.value)
    moves.forEach((move, from) => {
      if (move === -1) return
      const noted = this.capture(() => this.event(move))
      if (noted.length > 0) this.branch(when(binary(OP.eq, this.read(slot.index), constant(from)), noted))
    })
    if (reached !== -1) this.event(reached)
    this.write(slot.index, constant(stage))
  }

  private assign(effect: Exclude<LinkedEffect['effect'], { kind: 'stage' }>, slot: Slot, owner: string): void {
    const { story, compiler } = this.parts
    const entry = story.entries[story.entryOf.get(effect.entry)!]!
    if (slot.kind === 'entry' && slot.wide !== undefined) this.supported = false
    switch (entry.kind) {
      case 'flag':
        return this.write(slot.index, this.words.test(effect.value))
      case 'switch':
      case 'text':
        if (effect.value.kind === 'string')
          return this.write(slot.index, constant(compiler.literalIn(slot, effect.value.value)))
        return this.write(slot.index, this.read(compiler.slotOf(effect.value)!.index))
      case 'counter':
      case 'item': {
        if (
          !isSmall(compiler.story, effect.value) ||
          (effect.kind !== 'set' && !isSmallSum(compiler.story, entry, effect.value))
        )
          this.supported = false
        const next = this.locals.another()
        const value = this.words.count(effect.value)
        this.emit(
          set(
            next,
            effect.kind === 'set'
              ? value
              : binary(effect.kind === 'add' ? OP.add : OP.sub, this.read(slot.index), value),
          ),
        )
        const over = compiler.follows(entry.index) ? compiler.events.number('overrun', entry.id, owner) : -1
        const above = binary(OP.gt, get(next), constant(entry.max))
        const below = binary(OP.lt, get(next), constant(entry.min))
        const noted = over === -1 ? NOTHING : this.capture(() => this.event(over))
        if (noted.length > 0) this.branch(when(binary(OP.or, above, below), noted))
        return this.write(slot.index, select(above, constant(entry.max), select(below, constant(entry.min), get(next))))
      }
    }
  }
}
