import { VISITS_MAX } from '../../base/limits'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  WholeLine,
  LinkedRule,
  LinkedStory,
  LinkedTurns,
  Road,
} from '../../story/linked'
import type { Action, Compiler } from './compile'
import type { Test } from './condition-compiler'
import { compileShown } from './shown-words'
import { eachLine, positionsInDocument, turnsIn } from '../../story/linked-parts'
import { phaseAfter, turnIn } from '../../story/turns'
import type { Slot } from '../analysis/slots'

/** Every field of a line is compiled here. */
type KnownLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/** A rule of a road: `to` is a beat's index, or one of the two below. */
export interface RuleProgram {
  readonly when: Test | undefined
  readonly effects: readonly Action[]
  readonly to: number
  readonly event: number
}

export const TO_PLACE = -1
export const TO_NOWHERE = -2

export interface ChoiceProgram {
  readonly address: string
  readonly event: number
  readonly when: Test | undefined
  /** Slot that says whether it was taken, or -1 when nothing asks. */
  readonly taken: number
  readonly once: boolean
  readonly effects: readonly Action[]
  /** The road of a choice that has no list. */
  readonly to: number
  readonly rules: readonly RuleProgram[] | undefined
  /** Slots that taking it may write before its road is chosen: what a trial must put back. */
  readonly writes: readonly number[]
  /** Those, and what the rules of its list may write. */
  readonly allWrites: readonly number[]
  readonly shown: Action | undefined
  readonly shownClosed: boolean
}

/** One beat, ready to be run: the order of its parts is the order of play. */
export interface BeatProgram {
  readonly scene: number
  readonly event: number
  /** Slots that the beat itself and its roads on may write. */
  readonly writes: readonly number[]
  readonly redirects: readonly RuleProgram[]
  readonly placeValue: number
  /** Slot of the visit count, or -1 when nothing asks. */
  readonly visits: number
  readonly visitsMax: number
  readonly body: readonly Action[]
  readonly ending: number
  readonly endingEvent: number
  readonly asks: boolean
  /** Slot that the word goes into, or -1. */
  readonly into: number
  /** What the slot takes for each word; one meaningless word when there is no slot. */
  readonly typable: readonly number[]
  readonly prompt: Action | undefined
  readonly choices: readonly ChoiceProgram[]
  readonly onward: readonly RuleProgram[]
}

const NO_WORD: readonly number[] = [0]
const NO_ACTIONS: readonly Action[] = []
const NOTHING: Action = () => undefined

/** By index: this runs for every transition, and an iterator each time would be most of what is ever allocated. */
export function runAll(actions: readonly Action[]): void {
  for (let at = 0; at < actions.length; at += 1) actions[at]!()
}

/** Compiles beats when they are first come to, so that what is never reached costs nothing. */
export class Programs {
  private readonly compiled: (BeatProgram | undefined)[]
  /** Whether code was generated that comes to beats by itself. */
  hasCode = false
  /** The number of the part that is compiled next. */
  private nextPart = 0
  /** Hears each time the condition of one part is asked; -1: none. */
  private readonly watch = { condition: -1, hear: (): void => undefined }

  /** Plays something and hears each time that a condition is asked in it, named by the number of its part. */
  watching<T>(condition: number, hear: () => void, play: () => T): T {
    // compiled conditions look at this very object
    const before = { ...this.watch }
    Object.assign(this.watch, { condition, hear })
    try {
      return play()
    } finally {
      Object.assign(this.watch, before)
    }
  }
  private positions: Int32Array | undefined

  constructor(
    private story: LinkedStory,
    private readonly compiler: Compiler,
  ) {
    this.compiled = new Array<BeatProgram | undefined>(story.beats.length)
  }

  /** Whether a beat stands before another in the document. */
  isBefore(beat: number, other: number): boolean {
    const positions = (this.positions ??= positionsInDocument(this.story))
    return positions[beat]! < positions[other]!
  }

  /** After an edit: some beats are compiled anew when they are come to. */
  renew(story: LinkedStory, changed: readonly number[]): void {
    this.story = story
    this.positions = undefined
    for (const beat of changed) this.compiled[beat] = undefined
  }

  /** The beat as it is compiled; undefined where nothing has come to it. */
  known(beat: number): BeatProgram | undefined {
    const compiled = this.compiled[beat]
    if (compiled !== undefined || !this.hasCode) return compiled
    return this.compiler.events.hasReached(beat) ? this.of(beat) : undefined
  }

  of(beat: number): BeatProgram {
    return (this.compiled[beat] ??= this.compile(this.story.beats[beat]!))
  }

  /** Parts are compiled in the order of `eachPart`, in which their events are numbered. */
  private compile(beat: LinkedBeat): BeatProgram {
    const { slots, events } = this.compiler
    this.nextPart = events.partsOf(beat.index)
    const visits = slots.ofVisits[beat.index]!
    const into = beat.ask === undefined || beat.ask.into === -1 ? -1 : slots.ofEntry[beat.ask.into]!
    const intoSlot = into === -1 ? undefined : slots.all[into]!
    return {
      scene: beat.scene,
      event: this.takePart(),
      writes: this.writesOf(beat, visits, into),
      redirects: this.rules(beat.redirects),
      placeValue: beat.place ? slots.placeOf[beat.index]! : 0,
      visits,
      visitsMax: visits === -1 ? VISITS_MAX : slots.all[visits]!.max,
      body: [...beat.arrive.map((rule) => this.arrive(rule)), ...beat.lines.map((line) => this.inLines(line))],
      ending: beat.ending,
      endingEvent: beat.ending === -1 ? -1 : events.number('ending', this.story.endings[beat.ending]!.id),
      asks: beat.ask !== undefined,
      into,
      typable: intoSlot?.kind === 'entry' ? intoSlot.words!.typable : NO_WORD,
      prompt: beat.ask && compileShown(this.compiler, beat.ask.prompt, beat.address),
      choices: beat.choices.map((choice) => this.choice(choice)),
      onward: this.rules(beat.onward),
    }
  }

  private takePart(): number {
    return this.nextPart++
  }

  private rules(rules: readonly LinkedRule[]): RuleProgram[] {
    return rules.map((rule) => {
      const event = this.takePart()
      return {
        when: this.condition(rule.when, event),
        effects: this.effects(rule.effects, rule.address),
        to: roadTarget(rule.to),
        event,
      }
    })
  }

  private arrive(rule: LinkedBeat['arrive'][number]): Action {
    return this.guarded(rule.when, this.takePart(), this.effects(rule.effects, rule.address))
  }

  private line(line: KnownLine): Action {
    const event = this.takePart()
    const shown = compileShown(this.compiler, line.text, line.address)
    const effects = this.effects(line.effects, line.address)
    return this.guarded(line.when, event, shown === undefined ? effects : [shown, ...effects])
  }

  private inLines(line: LinkedBeat['lines'][number]): Action {
    switch (line.kind) {
      case 'line':
        return this.line(line)
      case 'group':
        return this.group(line)
      case 'turns':
        return this.guarded(line.when, this.takePart(), this.turns(line), this.compiler.followsTurns(line.index))
    }
  }

  /** What showing the next turn of a group does. A group that is not followed shows nothing. */
  private turns(group: LinkedTurns): readonly Action[] {
    const { events, slots, values } = this.compiler
    const { occurred: seen } = events
    const turns = group.turns.map((turn) => {
      const event = this.takePart()
      const lines = turn.lines.map((line) => this.line(line))
      return () => {
        if (seen[event] === 0) events.record(event)
        runAll(lines)
      }
    })
    if (!this.compiler.followsTurns(group.index)) return NO_ACTIONS
    // the game picks any: each is shown somewhere
    if (group.order === 'any') return turns
    const slot = slots.ofTurns[group.index]!
    if (slot === -1) return turns
    const { max, from } = slots.all[slot] as Slot & { kind: 'turns' }
    const shown = Array.from({ length: max + 1 }, (_, times) => turns[turnIn(group, phaseAfter(group, times))])
    return [
      () => {
        const times = values[slot]!
        values[slot] = times === max ? from : times + 1
        shown[times]?.()
      },
    ]
  }

  private group(group: LinkedBeat['lines'][number] & { kind: 'group' }): Action {
    const { events } = this.compiler
    const { occurred: seen } = events
    const variants = group.variants.map((variant) => {
      const event = this.takePart()
      const when = this.condition(variant.when, event)
      const lines = variant.lines.map((line) => this.line(line))
      return { event, when, lines: variant.turns === undefined ? lines : this.turns(variant.turns) }
    })
    return () => {
      for (let at = 0; at < variants.length; at += 1) {
        const variant = variants[at]!
        if (variant.when !== undefined && !variant.when()) continue
        if (seen[variant.event] === 0) events.record(variant.event)
        runAll(variant.lines)
        return
      }
    }
  }

  private guarded(
    condition: Condition | undefined,
    event: number,
    actions: readonly Action[],
    followed = true,
  ): Action {
    if (!followed) return NOTHING
    const { events } = this.compiler
    const { occurred: seen } = events
    const when = this.condition(condition, event)
    return () => {
      if (when !== undefined && !when()) return
      if (seen[event] === 0) events.record(event)
      runAll(actions)
    }
  }

  private choice(choice: LinkedChoice): ChoiceProgram {
    const { slots } = this.compiler
    const event = this.takePart()
    const taken = slots.ofTaken[choice.index]!
    const effects = this.effects(choice.effects, choice.address)
    const rules = choice.to.kind === 'rules' ? this.rules(choice.to.rules) : undefined
    const writes = taken === -1 ? [] : [taken]
    this.addWrites(choice.effects, writes)
    let allWrites = writes
    if (choice.to.kind === 'rules') {
      allWrites = [...writes]
      for (const rule of choice.to.rules) this.addWrites(rule.effects, allWrites)
    }
    return {
      address: choice.address,
      event,
      when: this.condition(choice.when, event),
      taken,
      once: choice.once,
      effects,
      to: choice.to.kind === 'road' ? roadTarget(choice.to.road) : TO_NOWHERE,
      rules,
      writes,
      allWrites,
      shown: compileShown(this.compiler, choice.text, choice.address),
      shownClosed: choice.shownClosed,
    }
  }

  /** The slots that the beat and its roads on may write; each once. */
  private writesOf(beat: LinkedBeat, visits: number, into: number): number[] {
    const written: number[] = []
    if (beat.place) written.push(this.compiler.slots.place)
    if (visits !== -1) written.push(visits)
    if (into !== -1) written.push(into)
    for (const rule of beat.redirects) this.addWrites(rule.effects, written)
    for (const rule of beat.arrive) this.addWrites(rule.effects, written)
    eachLine(beat, (line) => this.addWrites(line.effects, written))
    for (const { index } of turnsIn(beat)) {
      const slot = this.compiler.slots.ofTurns[index]!
      if (slot !== -1) written.push(slot)
    }
    for (const rule of beat.onward) this.addWrites(rule.effects, written)
    return written
  }

  private addWrites(effects: readonly LinkedEffect[], written: number[]): void {
    const { slots } = this.compiler
    const { questOf, entryOf } = this.story
    for (let at = 0; at < effects.length; at += 1) {
      const { effect } = effects[at]!
      const slot =
        effect.kind === 'stage'
          ? slots.ofQuest[questOf.get(effect.quest)!]!
          : slots.ofEntry[entryOf.get(effect.entry)!]!
      if (!written.includes(slot)) written.push(slot)
    }
  }

  private effects(effects: readonly LinkedEffect[], owner: string): readonly Action[] {
    return effects.length === 0 ? NO_ACTIONS : effects.map((effect) => this.compiler.effect(effect, owner))
  }

  /** A condition that logs whether it was ever true and ever false. */
  private condition(condition: Condition | undefined, number: number): Test | undefined {
    if (condition === undefined) return undefined
    const { events } = this.compiler
    const test = condition.expr === undefined ? () => false : this.compiler.test(condition.expr)
    const { watch } = this
    return () => {
      if (watch.condition === number) watch.hear()
      const holds = test()
      events.ask(number, holds ? 2 : 1)
      return holds
    }
  }
}

function roadTarget(road: Road): number {
  return road.kind === 'beat' ? road.beat : road.kind === 'return' ? TO_PLACE : TO_NOWHERE
}
