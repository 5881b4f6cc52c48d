import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Expr } from '../../expression/ast'
import type { Condition, LinkedBeat, LinkedEffect, LinkedRule, LinkedStory, LinkedText, Road } from '../../story/linked'
import { eachLine, eachOwner, eachText, turnsIn } from '../../story/linked-parts'
import { argumentsIn, textArgument } from '../../story/text'
import { TO_RETURN, type BeatSummary, type FlowEdge, type FlowEdges } from './beat-summary'
import { FlowWriter, type SummarisedLine } from './flow-writer'
import { NumberWriter } from './number-writer'
import { askedFor, eachVariable, readsText, showsWords, type Variables } from './variables'

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
  private readonly named = new NumberWriter()
  private readonly flow: FlowWriter
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
  /** Whether the expression that is read asks how often beats were visited or whether choices were taken. */
  private asksForCounts = false

  constructor(
    private readonly story: LinkedStory,
    private readonly variables: Variables,
  ) {
    this.flow = new FlowWriter(story, variables, this.named)
  }

  read(beat: LinkedBeat): BeatSummary {
    const { story } = this
    this.effects.length = 0
    this.visitsRead.length = 0
    // the beat itself, its ending, dead end, endless run
    this.events = 4
    this.exprs.length = 0
    this.texts.length = 0
    const flow = this.flow.write(beat)
    const edges = this.edges(beat)
    this.nameAll(edges.redirects)
    this.nameAll(edges.choices)
    this.nameAll(edges.onward)
    for (let at = 0; at < edges.body.length; at += 1) this.named.include(edges.body[at]!)
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
    if (edges.into !== -1) this.entriesWritten.include(edges.into)
    eachText(beat, this.text)
    const wording = this.wording(effects, beat)
    return {
      variables: this.named.take(),
      ...flow,
      edges,
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

  private nameAll(edges: readonly FlowEdge[]): void {
    for (let at = 0; at < edges.length; at += 1) {
      const { sets } = edges[at]!
      for (let index = 0; index < sets.length; index += 1) this.named.include(sets[index]!)
    }
  }

  private edges(beat: LinkedBeat): FlowEdges {
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
      if (choice.to.kind === 'road') this.edge(choices, choice.to.road, before, NONE)
      else
        for (let rule = 0; rule < choice.to.rules.length; rule += 1)
          this.edge(choices, choice.to.rules[rule]!.to, before, choice.to.rules[rule]!.effects)
    }
    return {
      redirects: this.edgesOf(beat.redirects),
      body,
      choices,
      into: beat.ask === undefined ? -1 : beat.ask.into,
      onward: this.edgesOf(beat.onward),
    }
  }

  private edgesOf(rules: readonly LinkedRule[]): readonly FlowEdge[] {
    if (rules.length === 0) return NONE
    const edges: FlowEdge[] = []
    for (let at = 0; at < rules.length; at += 1) this.edge(edges, rules[at]!.to, NONE, rules[at]!.effects)
    return edges
  }

  private readonly lineTargets = (line: SummarisedLine): void => this.targets(line.effects)

  private targets(effects: readonly LinkedEffect[]): void {
    for (let at = 0; at < effects.length; at += 1) this.sets.push(this.target(effects[at]!))
  }

  private edge(list: FlowEdge[], road: Road, before: readonly number[], effects: readonly LinkedEffect[]): void {
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
    eachVariable(this.story, this.variables, expr, this.askedVariable)
    if (!this.asksForCounts) return
    askedFor(
      this.story,
      expr,
      (beat, most) => this.visitsRead.push({ beat, most }),
      (choice) => this.takenRead.push(choice),
    )
  }

  private readonly askedVariable = (variable: number): void => {
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
}

function copied<T>(list: readonly T[]): readonly T[] {
  return list.length === 0 ? NONE : list.slice()
}
