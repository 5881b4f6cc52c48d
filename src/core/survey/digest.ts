import { TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Expr } from '../expression/ast'
import type { Condition, LinkedBeat, LinkedChoice, LinkedEffect, LinkedLine, LinkedRule, LinkedStory, LinkedText, Road } from '../story/linked'
import { textArgument } from '../story/text'
import { eachLine, eachText, ownersOf, type Owner } from './story-parts'
import { askedFor, showsWords, thingsRead, type Things } from './things'

/**
 * All that the analyses before a search ask of a beat, as lists of numbers. It depends on the beat
 * and on the names of the story alone, so a beat that an edit left as it was is not read again.
 */
export interface Digest {
  /** What it reads, sets or shows, each once. */
  readonly things: readonly number[]
  /** Steps back from the roads and choices of a state resting here to that state. */
  readonly rest: readonly number[]
  /** Steps back from there over the roads onward. */
  readonly onward: readonly number[]
  /** Steps back from there to where the beat is come to. */
  readonly arrival: readonly number[]
  /** Roads ahead with what is set on the way: see `Ways`. */
  readonly ways: Ways
  readonly visitsRead: readonly { readonly beat: number; readonly most: number }[]
  readonly takenRead: readonly number[]
  /** Quests that it sets. */
  readonly quests: readonly number[]
  /** Entries that a condition, a value or a text reads, and that an effect or a typed word writes; each once. */
  readonly entriesRead: readonly number[]
  readonly entriesWritten: readonly number[]
  readonly effects: readonly { readonly effect: LinkedEffect['effect']; readonly owner: string }[]
  /** Where words are told apart: conditions and values that name a text entry, effects on one, texts that choose between forms. */
  readonly wording: { readonly exprs: readonly Expr[]; readonly effects: readonly { readonly entry: string; readonly value: Expr }[]; readonly texts: readonly LinkedText[] }
  /** At most so many marks and conditions. */
  readonly marks: number
  readonly conditions: number
}

/** Roads of a beat, and things that are set: on a road, or by the beat itself before its roads come. */
export interface Ways {
  readonly redirects: readonly Way[]
  readonly body: readonly number[]
  readonly choices: readonly Way[]
  /** The thing a typed word goes into, or -1. */
  readonly into: number
  readonly onward: readonly Way[]
}

export interface Way {
  /** A beat, or TO_RETURN. */
  readonly to: number
  readonly sets: readonly number[]
}

export const TO_RETURN = -1

/** Steps of a digest; each is followed by its operands. */
export const STEP = {
  /** A thing is read. */
  read: 0,
  /** A thing is read by showing a text. */
  shown: 1,
  /** A thing is set anew. */
  kill: 2,
  /** An effect on an entry: the entry, how (EFFECT), whether it may be left out, its number among the beat's effects, how many things it reads, those. */
  effect: 3,
  /** A stage is set: the quest, whether it may be left out, whether the quest declares moves. */
  stage: 4,
  /** So many of the following numbers are steps of a way of its own from nothing; what it gives is added. */
  aside: 5,
  /** Variants begin from here. */
  base: 6,
  /** The same as `aside`, from where the variants begin. */
  variant: 7,
  /** Goes to a beat. */
  go: 8,
  /** Goes back to a place. */
  goBack: 9,
} as const

/** How an effect changes an entry. */
export const EFFECT = { setLiteral: 0, setOther: 1, change: 2 } as const

/** A linked beat is kept by an edit only where all names stay what they were, and with them all numbers. */
export function digestOf(story: LinkedStory, things: Things, beat: LinkedBeat): Digest {
  return (beat.memo.digest ??= new Reader(story, things, beat).read()) as Digest
}

type Effects = Digest['effects']

const NONE: readonly never[] = []
const NO_WORDING: Digest['wording'] = { exprs: NONE, effects: NONE, texts: NONE }

class Reader {
  private steps: number[] = []
  private effectCount = 0
  private readonly named: number[] = []
  private readonly entriesRead: number[] = []
  private readonly entriesWritten: number[] = []
  private readonly quests: number[] = []
  private readonly visitsRead: { beat: number; most: number }[] = []
  private readonly takenRead: number[] = []

  constructor(
    private readonly story: LinkedStory,
    private readonly things: Things,
    private readonly beat: LinkedBeat,
  ) {}

  read(): Digest {
    const { beat, story } = this
    const owners = ownersOf(beat)
    const effects = this.effectsOf(owners)
    const rest = this.written(() => this.resting())
    const onward = beat.onward.length === 0 ? NONE : this.written(() => this.roads(beat.onward))
    const arrival = this.written(() => this.arrival())
    const ways = this.ways()
    this.nameAll(ways.redirects)
    this.nameAll(ways.choices)
    this.nameAll(ways.onward)
    for (let at = 0; at < ways.body.length; at += 1) this.name(ways.body[at]!)
    for (let at = 0; at < beat.choices.length; at += 1) if (beat.choices[at]!.once) this.takenRead.push(beat.choices[at]!.index)
    for (let at = 0; at < owners.length; at += 1) {
      const { when } = owners[at]!
      if (when?.expr !== undefined) this.asked(when.expr)
    }
    for (let at = 0; at < effects.length; at += 1) {
      const { effect } = effects[at]!
      this.asked(effect.value)
      if (effect.kind === 'stage') this.quests.push(story.questOf.get(effect.quest)!)
      else include(this.entriesWritten, story.entryOf.get(effect.entry)!)
    }
    if (ways.into !== -1) include(this.entriesWritten, ways.into)
    // the beat itself, its ending, dead end, endless run
    let marks = 4 + owners.length
    for (let at = 0; at < effects.length; at += 1) {
      const { effect } = effects[at]!
      marks += effect.kind === 'stage' ? story.quests[story.questOf.get(effect.quest)!]!.stages.length + 1 : 1
    }
    const texts: LinkedText[] = []
    eachText(beat, (text) => {
      if (text.isPlain || text.parsed === undefined || !text.source.includes('{')) return
      texts.push(text)
      // every { begins one argument at most
      marks += text.source.split('{').length - 1
      this.shownEntries(text.parsed)
    })
    return {
      things: this.named, rest, onward, arrival, ways, effects, marks,
      visitsRead: this.visitsRead,
      takenRead: this.takenRead,
      entriesRead: this.entriesRead,
      entriesWritten: this.entriesWritten,
      wording: this.wording(owners, effects, texts),
      quests: this.quests,
      conditions: owners.length,
    }
  }

  private effectsOf(owners: readonly Owner[]): Effects {
    let effects: Effects[number][] | undefined
    for (let at = 0; at < owners.length; at += 1) {
      const owner = owners[at]!
      for (let number = 0; number < owner.effects.length; number += 1) (effects ??= []).push({ effect: owner.effects[number]!.effect, owner: owner.address })
    }
    return effects ?? NONE
  }

  private nameAll(ways: readonly Way[]): void {
    for (let at = 0; at < ways.length; at += 1) {
      const { sets } = ways[at]!
      for (let index = 0; index < sets.length; index += 1) this.name(sets[index]!)
    }
  }

  private ways(): Ways {
    const { beat, things } = this
    const body = beat.place ? [things.place, things.visits + beat.index] : [things.visits + beat.index]
    for (let at = 0; at < beat.arrive.length; at += 1) this.targets(beat.arrive[at]!.effects, body)
    eachLine(beat, (line) => this.targets(line.effects, body))
    const choices: Way[] = []
    for (let at = 0; at < beat.choices.length; at += 1) {
      const choice = beat.choices[at]!
      const before = [things.taken + choice.index]
      this.targets(choice.effects, before)
      if (choice.to.kind === 'road') this.way(choices, choice.to.road, before, NONE)
      else for (const rule of choice.to.rules) this.way(choices, rule.to, before, rule.effects)
    }
    return { redirects: this.waysOf(beat.redirects), body, choices, into: beat.ask === undefined ? -1 : beat.ask.into, onward: this.waysOf(beat.onward) }
  }

  private waysOf(rules: readonly LinkedRule[]): readonly Way[] {
    if (rules.length === 0) return NONE
    const ways: Way[] = []
    for (let at = 0; at < rules.length; at += 1) this.way(ways, rules[at]!.to, NONE, rules[at]!.effects)
    return ways
  }

  private targets(effects: readonly LinkedEffect[], into: number[]): void {
    for (let at = 0; at < effects.length; at += 1) into.push(this.target(effects[at]!))
  }

  private way(list: Way[], road: Road, before: readonly number[], effects: readonly LinkedEffect[]): void {
    if (road.kind === 'nowhere') return
    const sets = effects.length === 0 ? before : [...before, ...effects.map((effect) => this.target(effect))]
    list.push({ to: road.kind === 'return' ? TO_RETURN : road.beat, sets })
  }

  /** The thing that an effect sets. */
  private target({ effect }: LinkedEffect): number {
    return effect.kind === 'stage' ? this.things.quest + this.story.questOf.get(effect.quest)! : this.story.entryOf.get(effect.entry)!
  }

  private asked(expr: Expr): void {
    if (expr.kind === 'bool' || expr.kind === 'int' || expr.kind === 'string') return
    askedFor(this.story, expr, (beat, most) => this.visitsRead.push({ beat, most }), (choice) => this.takenRead.push(choice))
    const read = this.readIn(expr)
    for (let at = 0; at < read.length; at += 1) if (read[at]! < this.things.quest) include(this.entriesRead, read[at]!)
  }

  private shownEntries(parts: readonly MessageFormatElement[]): void {
    for (const part of parts) {
      if (part.type === TYPE.literal || part.type === TYPE.pound) continue
      if (part.type === TYPE.tag) {
        this.shownEntries(part.children)
        continue
      }
      const { of, id } = textArgument(part.value)
      if (of === 'entry') include(this.entriesRead, this.story.entryOf.get(id)!)
      if (part.type === TYPE.select || part.type === TYPE.plural) for (const option of Object.values(part.options)) this.shownEntries(option.value)
    }
  }

  private wording(owners: readonly Owner[], effects: Effects, texts: readonly LinkedText[]): Digest['wording'] {
    const { story } = this
    const isText = (entry: number | undefined) => entry !== undefined && story.entries[entry]?.kind === 'text'
    const forms = texts.filter(({ parsed }) => parsed!.some((part) => part.type === TYPE.select || part.type === TYPE.plural || part.type === TYPE.tag))
    if (forms.length === 0 && !this.named.some(isText)) return NO_WORDING
    const exprs: Expr[] = []
    const add = (expr: Expr) => {
      if (this.readIn(expr).some(isText)) exprs.push(expr)
    }
    for (const { when } of owners) if (when?.expr !== undefined) add(when.expr)
    for (const { effect } of effects) add(effect.value)
    return {
      exprs,
      effects: effects.flatMap(({ effect }) => (effect.kind !== 'stage' && isText(story.entryOf.get(effect.entry)) ? [{ entry: effect.entry, value: effect.value }] : [])),
      texts: forms,
    }
  }

  /** The steps that `work` writes. */
  private written(work: () => void): number[] {
    const { steps } = this
    this.steps = []
    work()
    const written = this.steps
    this.steps = steps
    return written
  }

  /** Steps of a way of its own. */
  private aside(kind: number, work: () => void): void {
    const { steps } = this
    const at = steps.push(kind, 0)
    work()
    steps[at - 1] = steps.length - at
  }

  /** What a state resting at the beat must remember of what comes after. */
  private resting(): void {
    const { beat } = this
    if (beat.ending !== -1) return
    if (beat.ask !== undefined) {
      this.roads(beat.onward)
      if (beat.ask.into !== -1) this.kill(beat.ask.into)
      this.shown(beat.ask.prompt)
      return
    }
    for (let at = 0; at < beat.choices.length; at += 1) this.choice(beat.choices[at]!)
  }

  private arrival(): void {
    const { beat } = this
    for (let at = beat.lines.length - 1; at >= 0; at -= 1) {
      const line = beat.lines[at]!
      if (line.kind === 'line') {
        this.line(line)
        continue
      }
      this.steps.push(STEP.base)
      for (const variant of line.variants) {
        this.aside(STEP.variant, () => {
          for (let number = variant.lines.length - 1; number >= 0; number -= 1) this.line(variant.lines[number]!)
        })
        this.condition(variant.when)
      }
    }
    for (let at = beat.arrive.length - 1; at >= 0; at -= 1) {
      const rule = beat.arrive[at]!
      this.effects(rule.effects, rule.when !== undefined)
      this.condition(rule.when)
    }
    if (beat.place) this.kill(this.things.place)
    this.roads(beat.redirects)
  }

  private choice(choice: LinkedChoice): void {
    this.aside(STEP.aside, () => {
      if (choice.to.kind === 'road') this.go(choice.to.road)
      else this.roads(choice.to.rules)
      this.effects(choice.effects, false)
      this.kill(this.things.taken + choice.index)
    })
    if (choice.once) this.reads(this.things.taken + choice.index)
    this.condition(choice.when)
    this.shown(choice.text)
  }

  private roads(rules: readonly LinkedRule[]): void {
    for (let at = 0; at < rules.length; at += 1) {
      const rule = rules[at]!
      this.aside(STEP.aside, () => {
        this.go(rule.to)
        this.effects(rule.effects, false)
      })
      this.condition(rule.when)
      if (rule.to.kind === 'return') this.reads(this.things.place)
    }
  }

  private go(road: Road): void {
    if (road.kind === 'beat') this.steps.push(STEP.go, road.beat)
    if (road.kind !== 'return') return
    this.reads(this.things.place)
    this.steps.push(STEP.goBack)
  }

  private line(line: LinkedLine): void {
    this.effects(line.effects, line.when !== undefined)
    this.shown(line.text)
    this.condition(line.when)
  }

  private effects(effects: readonly LinkedEffect[], maybe: boolean): void {
    for (let at = effects.length - 1; at >= 0; at -= 1) {
      const { effect } = effects[at]!
      if (effect.kind === 'stage') {
        const quest = this.story.questOf.get(effect.quest)!
        this.name(this.things.quest + quest)
        this.steps.push(STEP.stage, this.things.quest + quest, maybe ? 1 : 0, this.story.quests[quest]!.moves === undefined ? 0 : 1)
        continue
      }
      const entry = this.story.entryOf.get(effect.entry)!
      const reads = this.readIn(effect.value)
      const how = effect.kind !== 'set' ? EFFECT.change : effect.value.kind === 'int' ? EFFECT.setLiteral : EFFECT.setOther
      this.name(entry)
      for (const thing of reads) this.name(thing)
      this.steps.push(STEP.effect, entry, how, maybe ? 1 : 0, this.effectCount, reads.length, ...reads)
      this.effectCount += 1
    }
  }

  private condition(condition: Condition | undefined): void {
    if (condition?.expr === undefined) return
    const read = this.readIn(condition.expr)
    for (let at = 0; at < read.length; at += 1) this.reads(read[at]!)
  }

  /** A text that may show an unset entry is read: the entry, and what chooses the form around it. */
  private shown(text: LinkedText): void {
    if (text.isPlain || text.parsed === undefined || !showsWords(this.story, text.parsed)) return
    const visit = (parts: readonly MessageFormatElement[]): void => {
      for (const part of parts) {
        if (part.type === TYPE.literal || part.type === TYPE.pound || part.type === TYPE.tag) continue
        const { of, id } = textArgument(part.value)
        const thing = of === 'quest' ? this.things.quest + this.story.questOf.get(id)! : this.story.entryOf.get(id)!
        this.name(thing)
        this.steps.push(STEP.shown, thing)
        if (part.type === TYPE.select || part.type === TYPE.plural) for (const option of Object.values(part.options)) visit(option.value)
      }
    }
    visit(text.parsed)
  }

  private kill(thing: number): void {
    this.name(thing)
    this.steps.push(STEP.kill, thing)
  }

  private reads(thing: number): void {
    this.name(thing)
    this.steps.push(STEP.read, thing)
  }

  private name(thing: number): void {
    include(this.named, thing)
  }

  private readIn(expr: Expr): number[] {
    return thingsRead(this.story, this.things, expr)
  }
}

function include(list: number[], item: number): void {
  if (!list.includes(item)) list.push(item)
}
