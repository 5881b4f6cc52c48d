import { VISITS_MAX } from '../../base/limits'
import type { Condition, LinkedBeat, LinkedChoice, LinkedEffect, LinkedLine, LinkedRule, LinkedStory, Road } from '../../story/linked'
import type { Action, Compiler, Test } from '../compile'
import type { ConditionLog } from '../marks'
import { eachPart } from '../beat-parts'
import { compileShown } from '../shown-words'
import { linesOf } from '../story-parts'

/** A rule of a road: `to` is a beat's index, or one of the two below. */
export interface RuleProgram {
  readonly when: Test | undefined
  readonly effects: readonly Action[]
  readonly to: number
  readonly mark: number
}

export const TO_PLACE = -1
export const TO_NOWHERE = -2

export interface ChoiceProgram {
  readonly address: string
  readonly mark: number
  readonly when: Test | undefined
  /** Slot that says whether it was taken, or -1 when nothing asks. */
  readonly taken: number
  readonly once: boolean
  readonly effects: readonly Action[]
  /** The road of a choice that has no list. */
  readonly to: number
  readonly rules: readonly RuleProgram[] | undefined
  /** Slots that taking it may write before its road is chosen: what a trial must put back. */
  readonly writes: Int32Array
  /** Those, and what the rules of its list may write. */
  readonly allWrites: Int32Array
  readonly shown: Action | undefined
  readonly shownClosed: boolean
}

/** One beat, ready to be run: the order of its parts is the order of play. */
export interface BeatProgram {
  readonly scene: number
  readonly mark: number
  /** Slots that the beat itself and its roads on may write. */
  readonly writes: Int32Array
  readonly redirects: readonly RuleProgram[]
  readonly placeValue: number
  /** Slot of the visit count, or -1 when nothing asks. */
  readonly visits: number
  readonly visitsMax: number
  readonly body: readonly Action[]
  readonly ending: number
  readonly endingMark: number
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

/** By index: this runs for every transition, and an iterator each time would be most of what is ever allocated. */
export function runAll(actions: readonly Action[]): void {
  for (let at = 0; at < actions.length; at += 1) actions[at]!()
}

/** Compiles beats when they are first come to, so that what is never reached costs nothing. */
export class Programs {
  private readonly compiled: (BeatProgram | undefined)[]
  private readonly partMarks: (Int32Array | undefined)[] = []
  /** Whether code was generated that comes to beats by itself. */
  hasCode = false
  /** Hears each time one condition is asked; -1: none. */
  readonly watch = { condition: -1, hear: (): void => undefined }

  constructor(
    private story: LinkedStory,
    private readonly compiler: Compiler,
    private readonly conditions: ConditionLog,
  ) {
    this.compiled = new Array<BeatProgram | undefined>(story.beats.length)
  }

  /** After an edit: some beats are compiled anew when they are come to. */
  renew(story: LinkedStory, changed: readonly number[]): void {
    this.story = story
    for (const beat of changed) {
      this.compiled[beat] = undefined
      this.partMarks[beat] = undefined
    }
  }

  /** The marks of a beat's parts, in the order of `beatParts`; undefined where nothing has come to the beat. */
  marksOf(beat: number): Int32Array | undefined {
    if (this.known(beat) === undefined) return undefined
    return (this.partMarks[beat] ??= this.marksIn(this.story.beats[beat]!))
  }

  private marksIn(beat: LinkedBeat): Int32Array {
    const { marks } = this.compiler
    const own: number[] = []
    eachPart(beat, (kind, address) => own.push(marks.number(kind, address)))
    return Int32Array.from(own)
  }

  /** The beat as it is compiled; undefined where nothing has come to it. */
  known(beat: number): BeatProgram | undefined {
    const compiled = this.compiled[beat]
    if (compiled !== undefined || !this.hasCode) return compiled
    return this.compiler.marks.find('beat', this.story.beats[beat]!.address) === undefined ? undefined : this.of(beat)
  }

  of(beat: number): BeatProgram {
    return (this.compiled[beat] ??= this.compile(this.story.beats[beat]!))
  }

  private compile(beat: LinkedBeat): BeatProgram {
    const { slots, marks } = this.compiler
    const visits = slots.ofVisits[beat.index]!
    const into = beat.ask === undefined || beat.ask.into === -1 ? -1 : slots.ofEntry[beat.ask.into]!
    const intoSlot = into === -1 ? undefined : slots.all[into]!
    const typedInto = into === -1 ? [] : [into]
    const own = [...(beat.place ? [slots.place] : []), ...(visits === -1 ? [] : [visits]), ...typedInto]
    const lines = linesOf(beat)
    return {
      scene: beat.scene,
      mark: marks.number('beat', beat.address),
      writes: this.writes([...beat.redirects, ...beat.arrive, ...lines, ...beat.onward], own),
      redirects: this.rules(beat.redirects, 'redirect'),
      placeValue: beat.place ? slots.placeOf[beat.index]! : 0,
      visits,
      visitsMax: visits === -1 ? VISITS_MAX : slots.all[visits]!.max,
      body: [...beat.arrive.map((rule) => this.arrive(rule)), ...beat.lines.map((line) => (line.kind === 'line' ? this.line(line) : this.group(line)))],
      ending: beat.ending,
      endingMark: beat.ending === -1 ? -1 : marks.number('ending', this.story.endings[beat.ending]!.id),
      asks: beat.ask !== undefined,
      into,
      typable: intoSlot?.kind === 'entry' ? intoSlot.words!.typable : NO_WORD,
      prompt: beat.ask && compileShown(this.compiler, beat.ask.prompt, beat.address),
      choices: beat.choices.map((choice) => this.choice(choice)),
      onward: this.rules(beat.onward, 'onward'),
    }
  }

  private rules(rules: readonly LinkedRule[], kind: 'redirect' | 'onward' | 'rule'): RuleProgram[] {
    return rules.map((rule) => ({
      when: this.condition(rule.when),
      effects: this.effects(rule.effects, rule.address),
      to: roadTarget(rule.to),
      mark: this.compiler.marks.number(kind, rule.address),
    }))
  }

  private arrive(rule: LinkedBeat['arrive'][number]): Action {
    return this.guarded(rule.when, this.compiler.marks.number('arrive', rule.address), this.effects(rule.effects, rule.address))
  }

  private line(line: LinkedLine): Action {
    const shown = compileShown(this.compiler, line.text, line.address)
    const effects = this.effects(line.effects, line.address)
    return this.guarded(line.when, this.compiler.marks.number('line', line.address), shown === undefined ? effects : [shown, ...effects])
  }

  private group(group: LinkedBeat['lines'][number] & { kind: 'group' }): Action {
    const { marks } = this.compiler
    const variants = group.variants.map((variant) => ({
      when: this.condition(variant.when),
      lines: variant.lines.map((line) => this.line(line)),
      mark: marks.number('variant', variant.address),
    }))
    return () => {
      for (let at = 0; at < variants.length; at += 1) {
        const variant = variants[at]!
        if (variant.when !== undefined && !variant.when()) continue
        marks.hit(variant.mark)
        runAll(variant.lines)
        return
      }
    }
  }

  private guarded(condition: Condition | undefined, mark: number, actions: readonly Action[]): Action {
    const { marks } = this.compiler
    const { seen } = marks
    const when = this.condition(condition)
    return () => {
      if (when !== undefined && !when()) return
      if (seen[mark] === 0) marks.hit(mark)
      runAll(actions)
    }
  }

  private choice(choice: LinkedChoice): ChoiceProgram {
    const { slots, marks } = this.compiler
    const taken = slots.ofTaken[choice.index]!
    const effects = this.effects(choice.effects, choice.address)
    const rules = choice.to.kind === 'rules' ? this.rules(choice.to.rules, 'rule') : undefined
    const own = taken === -1 ? [] : [taken]
    const writes = this.writes([choice], own)
    return {
      address: choice.address,
      mark: marks.number('choice', choice.address),
      when: this.condition(choice.when),
      taken,
      once: choice.once,
      effects,
      to: choice.to.kind === 'road' ? roadTarget(choice.to.road) : TO_NOWHERE,
      rules,
      writes,
      allWrites: choice.to.kind === 'rules' ? this.writes([choice, ...choice.to.rules], own) : writes,
      shown: compileShown(this.compiler, choice.text, choice.address),
      shownClosed: choice.shownClosed,
    }
  }

  /** The slots that effects of some owners write, and `also`; each once. */
  private writes(owners: readonly { readonly effects: readonly LinkedEffect[] }[], also: readonly number[]): Int32Array {
    const { slots } = this.compiler
    const { questOf, entryOf } = this.story
    const written = new Set(also)
    for (const { effects } of owners) {
      for (const { effect } of effects) written.add(effect.kind === 'stage' ? slots.ofQuest[questOf.get(effect.quest)!]! : slots.ofEntry[entryOf.get(effect.entry)!]!)
    }
    return Int32Array.from(written)
  }

  private effects(effects: readonly LinkedEffect[], owner: string): Action[] {
    return effects.map((effect) => this.compiler.effect(effect, owner))
  }

  /** A condition that logs whether it was ever true and ever false. */
  private condition(condition: Condition | undefined): Test | undefined {
    if (condition === undefined) return undefined
    const { seen } = this.conditions
    const number = this.conditions.numberOf(condition.address)
    const test = condition.expr === undefined ? () => false : this.compiler.test(condition.expr)
    const { watch } = this
    return () => {
      if (watch.condition === number) watch.hear()
      if (test()) {
        seen[number]! |= 2
        return true
      }
      seen[number]! |= 1
      return false
    }
  }
}

function roadTarget(road: Road): number {
  return road.kind === 'beat' ? road.beat : road.kind === 'return' ? TO_PLACE : TO_NOWHERE
}
