import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Expr } from '../../expression/ast'
import type {
  Condition,
  LinkedBeat,
  LinkedChoice,
  LinkedEffect,
  LinkedLine,
  WholeLine,
  LinkedRule,
  LinkedStory,
  LinkedText,
  LinkedTurns,
  Road,
} from '../../story/linked'
import { argumentsIn, textArgument } from '../../story/text'
import { EFFECT, STEP } from './flow'
import { NumberWriter } from './number-writer'
import { eachLine, eachOwner, eachText, turnsIn } from '../../story/linked-parts'
import { askedFor, eachVariable, readsText, showsWords, type Variables } from './variables'

/** Every field of a line is summarised here. */
type KnownLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/**
 * All that the analyses before a search ask of a beat, as lists of numbers. It depends on the beat
 * and on the names of the story alone, so a beat that an edit left as it was is not read again.
 */
export interface BeatSummary {
  /** What it reads, sets or shows, each once. */
  readonly variables: readonly number[]
  /** Steps back from the roads and choices of a state resting here to that state. */
  readonly rest: readonly number[]
  /** Steps back from there over the roads onward. */
  readonly onward: readonly number[]
  /** Steps back from there to where the beat is come to. */
  readonly arrival: readonly number[]
  /** Roads ahead with what is set on the way: see `Ways`. */
  readonly edges: FlowEdges
  readonly visitsRead: readonly { readonly beat: number; readonly most: number }[]
  readonly takenRead: readonly number[]
  /** Quests that it sets. */
  readonly quests: readonly number[]
  /** Entries that a condition, a value or a text reads, and that an effect or a typed word writes; each once. */
  readonly entriesRead: readonly number[]
  readonly entriesWritten: readonly number[]
  readonly effects: readonly { readonly effect: LinkedEffect['effect']; readonly owner: string }[]
  /** Where words are told apart: conditions and values that name a text entry, effects on one, texts that choose between forms. */
  readonly wording: {
    readonly exprs: readonly Expr[]
    readonly effects: readonly { readonly entry: string; readonly value: Expr }[]
    readonly texts: readonly LinkedText[]
  }
  /** At most so many events. */
  readonly events: number
}

/** Roads of a beat, and variables that are set: on a road, or by the beat itself before its roads come. */
export interface FlowEdges {
  readonly redirects: readonly FlowEdge[]
  readonly body: readonly number[]
  readonly choices: readonly FlowEdge[]
  /** The variable a typed word goes into, or -1. */
  readonly into: number
  readonly onward: readonly FlowEdge[]
}

export interface FlowEdge {
  /** A beat, or TO_RETURN. */
  readonly to: number
  readonly sets: readonly number[]
}

export const TO_RETURN = -1

/** A linked beat is kept by an edit only where all names stay what they were, and with them all numbers. */
export function summaryOf(story: LinkedStory, variables: Variables, beat: LinkedBeat): BeatSummary {
  return (beat.memo.summary ??= readerOf(story, variables).read(beat)) as BeatSummary
}

const readers = new WeakMap<LinkedStory, Reader>()

function readerOf(story: LinkedStory, variables: Variables): Reader {
  let reader = readers.get(story)
  if (reader === undefined) {
    reader = new Reader(story, variables)
    readers.set(story, reader)
  }
  return reader
}

type Effects = BeatSummary['effects']

const NONE: readonly never[] = []
const NO_WORDING: BeatSummary['wording'] = { exprs: NONE, effects: NONE, texts: NONE }

/** Digests are many and stay: each list is written here first and then copied, so that it is no larger than what it holds. */
class Reader {
  private readonly steps = new NumberWriter()
  private readonly named = new NumberWriter()
  private readonly sets = new NumberWriter()
  private readonly entriesRead = new NumberWriter()
  private readonly entriesWritten = new NumberWriter()
  private readonly quests = new NumberWriter()
  private readonly takenRead = new NumberWriter()
  private readonly visitsRead: { beat: number; most: number }[] = []
  private readonly effects: Effects[number][] = []
  /** Conditions and texts of the beat. */
  private readonly exprs: Expr[] = []
  private readonly texts: LinkedText[] = []
  private events = 0
  private effectCount = 0
  /** Whether the expression that is read asks how often beats were visited or whether choices were taken. */
  private asksForCounts = false

  constructor(
    private readonly story: LinkedStory,
    private readonly variables: Variables,
  ) {}

  read(beat: LinkedBeat): BeatSummary {
    const { story } = this
    this.effects.length = 0
    this.visitsRead.length = 0
    this.effectCount = 0
    // the beat itself, its ending, dead end, endless run
    this.events = 4
    this.exprs.length = 0
    this.texts.length = 0
    this.resting(beat)
    const rest = this.steps.take()
    this.roads(beat.onward)
    const onward = this.steps.take()
    this.arrival(beat)
    const arrival = this.steps.take()
    const ways = this.ways(beat)
    this.nameAll(ways.redirects)
    this.nameAll(ways.choices)
    this.nameAll(ways.onward)
    for (let at = 0; at < ways.body.length; at += 1) this.named.include(ways.body[at]!)
    for (let at = 0; at < beat.choices.length; at += 1)
      if (beat.choices[at]!.once) this.takenRead.push(beat.choices[at]!.index)
    eachOwner(beat, this.owner)
    const effects: Effects = copied(this.effects)
    for (let at = 0; at < effects.length; at += 1) {
      const { effect } = effects[at]!
      this.asked(effect.value)
      if (effect.kind === 'stage') {
        const quest = story.questOf.get(effect.quest)!
        this.quests.push(quest)
        this.events += story.quests[quest]!.stages.length + 1
      } else {
        this.entriesWritten.include(story.entryOf.get(effect.entry)!)
        this.events += 1
      }
    }
    if (ways.into !== -1) this.entriesWritten.include(ways.into)
    eachText(beat, this.text)
    const wording = this.wording(effects, beat)
    return {
      variables: this.named.take(),
      rest,
      onward,
      arrival,
      edges: ways,
      effects,
      wording,
      events: this.events,
      visitsRead: copied(this.visitsRead),
      takenRead: this.takenRead.take(),
      entriesRead: this.entriesRead.take(),
      entriesWritten: this.entriesWritten.take(),
      quests: this.quests.take(),
    }
  }

  private readonly owner = (address: string, when: Condition | undefined, effects: readonly LinkedEffect[]): void => {
    this.events += 1
    if (when?.expr !== undefined) {
      this.exprs.push(when.expr)
      this.asked(when.expr)
    }
    for (let at = 0; at < effects.length; at += 1) this.effects.push({ effect: effects[at]!.effect, owner: address })
  }

  private readonly text = (text: LinkedText): void => {
    if (text.isPlain || text.parsed === undefined) return
    const { source } = text
    const before = this.events
    // every { begins one argument at most
    for (let at = source.indexOf('{'); at !== -1; at = source.indexOf('{', at + 1)) this.events += 1
    if (this.events === before) return
    this.texts.push(text)
    this.shownEntries(text.parsed)
    this.chosenByNames(text.parsed)
  }

  private nameAll(ways: readonly FlowEdge[]): void {
    for (let at = 0; at < ways.length; at += 1) {
      const { sets } = ways[at]!
      for (let index = 0; index < sets.length; index += 1) this.named.include(sets[index]!)
    }
  }

  private ways(beat: LinkedBeat): FlowEdges {
    const { variables, sets } = this
    if (beat.place) sets.push(variables.place)
    sets.push(variables.visits + beat.index)
    for (let at = 0; at < beat.arrive.length; at += 1) this.targets(beat.arrive[at]!.effects)
    eachLine(beat, this.lineTargets)
    for (const { index } of turnsIn(beat)) sets.push(variables.turns + index)
    const body = sets.take()
    const choices: FlowEdge[] = []
    for (let at = 0; at < beat.choices.length; at += 1) {
      const choice = beat.choices[at]!
      sets.push(variables.taken + choice.index)
      this.targets(choice.effects)
      const before = sets.take()
      if (choice.to.kind === 'road') this.way(choices, choice.to.road, before, NONE)
      else
        for (let rule = 0; rule < choice.to.rules.length; rule += 1)
          this.way(choices, choice.to.rules[rule]!.to, before, choice.to.rules[rule]!.effects)
    }
    return {
      redirects: this.waysOf(beat.redirects),
      body,
      choices,
      into: beat.ask === undefined ? -1 : beat.ask.into,
      onward: this.waysOf(beat.onward),
    }
  }

  private waysOf(rules: readonly LinkedRule[]): readonly FlowEdge[] {
    if (rules.length === 0) return NONE
    const ways: FlowEdge[] = []
    for (let at = 0; at < rules.length; at += 1) this.way(ways, rules[at]!.to, NONE, rules[at]!.effects)
    return ways
  }

  private readonly lineTargets = (line: KnownLine): void => this.targets(line.effects)

  private targets(effects: readonly LinkedEffect[]): void {
    for (let at = 0; at < effects.length; at += 1) this.sets.push(this.target(effects[at]!))
  }

  private way(list: FlowEdge[], road: Road, before: readonly number[], effects: readonly LinkedEffect[]): void {
    if (road.kind === 'nowhere') return
    const sets = effects.length === 0 ? before : [...before, ...effects.map((effect) => this.target(effect))]
    list.push({ to: road.kind === 'return' ? TO_RETURN : road.beat, sets })
  }

  /** The variable that an effect sets. */
  private target({ effect }: LinkedEffect): number {
    return effect.kind === 'stage'
      ? this.variables.quest + this.story.questOf.get(effect.quest)!
      : this.story.entryOf.get(effect.entry)!
  }

  private asked(expr: Expr): void {
    if (expr.kind === 'bool' || expr.kind === 'int' || expr.kind === 'string') return
    this.asksForCounts = false
    eachVariable(this.story, this.variables, expr, this.askedThing)
    if (!this.asksForCounts) return
    askedFor(
      this.story,
      expr,
      (beat, most) => this.visitsRead.push({ beat, most }),
      (choice) => this.takenRead.push(choice),
    )
  }

  private readonly askedThing = (variable: number): void => {
    if (variable < this.variables.quest) this.entriesRead.include(variable)
    else if (variable >= this.variables.visits) this.asksForCounts = true
  }

  /** What people are called is asked where it may choose between forms that show a word. */
  private chosenByNames(parts: readonly MessageFormatElement[]): void {
    if (!showsWords(this.story, parts)) return
    for (const { of, id } of argumentsIn(parts)) {
      if (of !== 'person') continue
      for (const { when } of this.story.people.get(id)!.called) {
        if (when.expr === undefined) continue
        this.exprs.push(when.expr)
        this.asked(when.expr)
      }
    }
  }

  private shownEntries(parts: readonly MessageFormatElement[]): void {
    for (const part of parts) {
      if (part.type === TYPE.literal || part.type === TYPE.pound) continue
      if (part.type === TYPE.tag) {
        this.shownEntries(part.children)
        continue
      }
      const { of, id } = textArgument(part.value)
      if (of === 'entry') this.entriesRead.include(this.story.entryOf.get(id)!)
      if (part.type === TYPE.select || part.type === TYPE.plural)
        for (const option of Object.values(part.options)) this.shownEntries(option.value)
    }
  }

  private wording(effects: Effects, { ask }: LinkedBeat): BeatSummary['wording'] {
    const { story, variables, named } = this
    const isText = (entry: number | undefined) => entry !== undefined && story.entries[entry]?.kind === 'text'
    const forms = this.texts.filter(({ parsed }) =>
      parsed!.some((part) => part.type === TYPE.select || part.type === TYPE.plural || part.type === TYPE.tag),
    )
    let namesText = false
    for (let at = 0; at < named.length && !namesText; at += 1) namesText = isText(named.at(at))
    if (forms.length === 0 && !namesText) return NO_WORDING
    const exprs = this.exprs.filter((expr) => readsText(story, variables, expr))
    for (const { effect } of effects) if (readsText(story, variables, effect.value)) exprs.push(effect.value)
    const written = effects.flatMap(({ effect }) =>
      effect.kind !== 'stage' && isText(story.entryOf.get(effect.entry))
        ? [{ entry: effect.entry, value: effect.value }]
        : [],
    )
    const asked = ask?.default === undefined ? undefined : story.entries[ask.into]
    // what an empty answer stands for is told apart like a word that is set
    if (asked !== undefined)
      written.push({ entry: asked.id, value: { kind: 'string', value: ask!.default!, start: 0, end: 0 } })
    return forms.length + exprs.length + written.length === 0 ? NO_WORDING : { exprs, effects: written, texts: forms }
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

  private line(line: KnownLine): void {
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
      eachVariable(story, variables, effect.value, this.valueThing)
      steps.put(from - 1, steps.length - from)
      this.effectCount += 1
    }
  }

  private readonly valueThing = (variable: number): void => {
    this.named.include(variable)
    this.steps.push(variable)
  }

  private condition(condition: Condition | undefined): void {
    if (condition?.expr !== undefined) eachVariable(this.story, this.variables, condition.expr, this.readThing)
  }

  private readonly readThing = (variable: number): void => this.reads(variable)

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

function copied<T>(list: readonly T[]): readonly T[] {
  return list.length === 0 ? NONE : list.slice()
}
