import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  LinkedRule,
  LinkedStory,
  LinkedText,
  LinkedTurns,
  Road,
  WholeLine,
} from '../../story/linked'
import { textArgument } from '../../story/text'
import type { BeatSummary } from './beat-summary'
import { EFFECT, STEP } from './flow'
import { NumberWriter } from './number-writer'
import { eachVariable, showsWords, type Variables } from './variables'

/** Every field of a line is summarised here. */
export type SummarisedLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/** Writes the steps of a beat, backwards, as `flow.ts` encodes them. */
export class FlowWriter {
  private readonly steps = new NumberWriter()
  private effectCount = 0

  constructor(
    private readonly story: LinkedStory,
    private readonly variables: Variables,
    /** Takes the variables that the beat names. */
    private readonly named: NumberWriter,
  ) {}

  write(beat: LinkedBeat): Pick<BeatSummary, 'rest' | 'onward' | 'arrival'> {
    this.effectCount = 0
    this.resting(beat)
    const rest = this.steps.take()
    this.roads(beat.onward)
    const onward = this.steps.take()
    this.arrival(beat)
    return { rest, onward, arrival: this.steps.take() }
  }

  /** Begins steps of a way of its own; gives where they begin, for `endAside`. */
  private beginAside(kind: number): number {
    this.steps.push(kind)
    return this.beginLength()
  }

  private beginLength(): number {
    this.steps.push(0)
    return this.steps.length
  }

  private endAside(from: number): void {
    this.steps.put(from - 1, this.steps.length - from)
  }

  /** What a state resting at the beat must remember of what comes after. */
  private resting(beat: LinkedBeat): void {
    if (beat.ending !== -1) return
    if (beat.ask !== undefined) {
      this.roads(beat.onward)
      if (beat.ask.into !== -1) this.kill(beat.ask.into)
      this.shown(beat.ask.prompt)
      return
    }
    for (let at = 0; at < beat.choices.length; at += 1) this.choice(beat.choices[at]!)
  }

  private arrival(beat: LinkedBeat): void {
    for (let at = beat.lines.length - 1; at >= 0; at -= 1) {
      const line = beat.lines[at]!
      if (line.kind === 'line') {
        this.line(line)
        continue
      }
      if (line.kind === 'turns') {
        this.turns(line)
        continue
      }
      this.steps.push(STEP.base)
      for (let variant = 0; variant < line.variants.length; variant += 1) {
        const { lines, when, turns } = line.variants[variant]!
        const from = this.beginAside(STEP.variant)
        if (turns !== undefined) this.turns(turns)
        for (let number = lines.length - 1; number >= 0; number -= 1) this.line(lines[number]!)
        this.endAside(from)
        this.condition(when)
      }
    }
    for (let at = beat.arrive.length - 1; at >= 0; at -= 1) {
      const rule = beat.arrive[at]!
      this.effectSteps(rule.effects, rule.when !== undefined)
      this.condition(rule.when)
    }
    if (beat.place) this.kill(this.variables.place)
    this.roads(beat.redirects)
  }

  private turns(group: LinkedTurns): void {
    const { steps } = this
    steps.push(STEP.turns)
    steps.push(group.index)
    const start = this.beginLength()
    steps.push(STEP.base)
    for (const { lines } of group.turns) {
      const from = this.beginAside(STEP.variant)
      for (let number = lines.length - 1; number >= 0; number -= 1) this.line(lines[number]!)
      this.endAside(from)
    }
    this.reads(this.variables.turns + group.index)
    this.condition(group.when)
    this.endAside(start)
  }

  private choice(choice: LinkedChoice): void {
    const from = this.beginAside(STEP.aside)
    if (choice.to.kind === 'road') this.go(choice.to.road)
    else this.roads(choice.to.rules)
    this.effectSteps(choice.effects, false)
    this.kill(this.variables.taken + choice.index)
    this.endAside(from)
    if (choice.once) this.reads(this.variables.taken + choice.index)
    this.condition(choice.when)
    this.shown(choice.text)
  }

  private roads(rules: readonly LinkedRule[]): void {
    for (let at = 0; at < rules.length; at += 1) {
      const rule = rules[at]!
      const from = this.beginAside(STEP.aside)
      this.go(rule.to)
      this.effectSteps(rule.effects, false)
      this.endAside(from)
      this.condition(rule.when)
      if (rule.to.kind === 'return') this.reads(this.variables.place)
    }
  }

  private go(road: Road): void {
    if (road.kind === 'beat') {
      this.steps.push(STEP.go)
      this.steps.push(road.beat)
    }
    if (road.kind !== 'return') return
    this.reads(this.variables.place)
    this.steps.push(STEP.goBack)
  }

  private line(line: SummarisedLine): void {
    this.effectSteps(line.effects, line.when !== undefined)
    this.shown(line.text)
    this.condition(line.when)
  }

  private effectSteps(effects: readonly LinkedEffect[], maybe: boolean): void {
    const { steps, named, variables, story } = this
    for (let at = effects.length - 1; at >= 0; at -= 1) {
      const { effect } = effects[at]!
      if (effect.kind === 'stage') {
        const quest = story.questOf.get(effect.quest)!
        named.include(variables.quest + quest)
        steps.push(STEP.stage)
        steps.push(variables.quest + quest)
        steps.push(maybe ? 1 : 0)
        steps.push(story.quests[quest]!.moves === undefined ? 0 : 1)
        continue
      }
      const entry = story.entryOf.get(effect.entry)!
      named.include(entry)
      steps.push(STEP.effect)
      steps.push(entry)
      steps.push(
        effect.kind !== 'set' ? EFFECT.change : effect.value.kind === 'int' ? EFFECT.setLiteral : EFFECT.setOther,
      )
      steps.push(maybe ? 1 : 0)
      steps.push(this.effectCount)
      steps.push(0)
      const from = steps.length
      eachVariable(story, variables, effect.value, this.readInValue)
      steps.put(from - 1, steps.length - from)
      this.effectCount += 1
    }
  }

  private readonly readInValue = (variable: number): void => {
    this.named.include(variable)
    this.steps.push(variable)
  }

  private condition(condition: Condition | undefined): void {
    if (condition?.expr !== undefined) eachVariable(this.story, this.variables, condition.expr, this.readVariable)
  }

  private readonly readVariable = (variable: number): void => this.reads(variable)

  /** A text that may show an unset entry is read: the entry, and what chooses the form around it. */
  private shown(text: LinkedText): void {
    if (text.isPlain || text.parsed === undefined || !showsWords(this.story, text.parsed)) return
    this.shownParts(text.parsed)
  }

  private shownParts(parts: readonly MessageFormatElement[]): void {
    for (const part of parts) {
      if (part.type === TYPE.literal || part.type === TYPE.pound || part.type === TYPE.tag) continue
      const { of, id } = textArgument(part.value)
      if (of === 'person') this.shownName(id)
      else
        this.shownVariable(
          of === 'quest' ? this.variables.quest + this.story.questOf.get(id)! : this.story.entryOf.get(id)!,
        )
      if (part.type === TYPE.select || part.type === TYPE.plural)
        for (const option of Object.values(part.options)) this.shownParts(option.value)
    }
  }

  private readonly shownVariable = (variable: number): void => {
    this.named.include(variable)
    this.steps.push(STEP.shown)
    this.steps.push(variable)
  }

  /** What a person is called may choose a form. */
  private shownName(id: string): void {
    for (const { when } of this.story.people.get(id)!.called)
      if (when.expr !== undefined) eachVariable(this.story, this.variables, when.expr, this.shownVariable)
  }

  private kill(variable: number): void {
    this.named.include(variable)
    this.steps.push(STEP.kill)
    this.steps.push(variable)
  }

  private reads(variable: number): void {
    this.named.include(variable)
    this.steps.push(STEP.read)
    this.steps.push(variable)
  }
}
