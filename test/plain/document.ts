import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'
import type { Effect, Expr } from '../../src/core/expression/ast'
import { parseEffect, parseExpression } from '../../src/core/expression/parse'
import type {
  CueUse,
  Entry,
  EntryValue,
  Line,
  PlainLine,
  Rule,
  Stage,
  Story,
  Turn,
  Variant,
  WhenGiven,
} from '../../src/core/story/types'

/**
 * What the specification says of a document before it is played: what is a problem, what reads and what writes an
 * entry, and which words matter. Read off the document itself, with nothing of the program but its parsers.
 */
export interface PlainDocument {
  /** `address | part` of every problem, the number of a counted part left as it is. */
  readonly problems: ReadonlySet<string>
  readonly read: ReadonlySet<string>
  readonly written: ReadonlySet<string>
  /** What a player may type, as far as the story can tell words apart. */
  readonly words: readonly string[]
  /** What the game sets, when, and to which values, as far as the story can tell words apart. */
  readonly given: ReadonlyMap<string, { readonly when: WhenGiven; readonly values: readonly EntryValue[] }>
  /** Every entry that counts, in the order of its declaration. */
  readonly entries: readonly string[]
}

type Type = 'bool' | 'int' | 'string'
interface Typed {
  readonly type: Type
  /** The only strings that it can be. */
  readonly of?: readonly string[]
}

/** `words`: what else texts are held against. */
export function plainDocument(story: Story, words: readonly string[] = []): PlainDocument {
  return new Reader(story, words).document()
}

class Reader {
  private readonly problems = new Set<string>()
  private readonly reads = new Set<string>()
  private readonly writes = new Set<string>()
  private readonly literals = new Set<string>()
  private comparesTexts = false
  private readonly journals: { readonly quest: string; readonly stage: Stage }[] = []
  private readonly sources = new Map<
    string,
    { readonly text: string | undefined; readonly scene: string | undefined }
  >()
  private readonly entries = new Map<string, { readonly entry: Entry; readonly scene: string | undefined }>()
  private readonly quests = new Map<string, readonly string[]>()
  private readonly beats = new Set<string>()
  private readonly choices = new Set<string>()
  private readonly endings: ReadonlySet<string>
  private readonly people: ReadonlySet<string>
  private readonly cues: ReadonlySet<string>
  /** Where what is looked at stands: a scene, `undefined` outside of all; promises may ask more. */
  private scene: string | undefined
  private inPromise = false

  constructor(
    private readonly story: Story,
    private readonly others: readonly string[],
  ) {
    this.people = this.declared(story.cast, (id) => id)
    this.cues = this.declared(story.cues, (id) => id)
    this.endings = this.declared(story.endings, (id) => id)
  }

  document(): PlainDocument {
    const { story } = this
    const scenes = this.first(story.scenes, (id) => id)
    const entryIds = new Set<string>()
    for (const entry of this.first(story.ledger, (id) => id, entryIds)) this.declareEntry(entry, undefined)
    for (const scene of scenes)
      for (const entry of this.first(scene.ledger, (id) => id, entryIds)) this.declareEntry(entry, scene.id)
    for (const quest of this.first(story.quests, (id) => id)) {
      const stages = ['unstarted', ...this.declared(quest.stages, (id) => `${quest.id}.${id}`)]
      this.quests.set(quest.id, stages)
      const known = new Set<string>()
      for (const stage of quest.stages)
        if (!known.has(stage.id) && known.add(stage.id)) this.journals.push({ quest: quest.id, stage })
      quest.moves?.forEach((move, at) => {
        if (move.some((stage) => !stages.includes(stage))) this.problem(quest.id, `moves${at + 1}`)
      })
    }
    const beats = scenes.map((scene) => ({
      scene,
      beats: this.first(scene.beats, (id) => `${scene.id}.${id}`).map((beat) => ({
        beat,
        choices: this.first(beat.choices, (id) => `${scene.id}.${beat.id}.${id}`),
      })),
    }))
    for (const { scene, beats: own } of beats)
      for (const { beat, choices } of own) {
        this.beats.add(`${scene.id}.${beat.id}`)
        for (const { id } of choices) this.choices.add(`${scene.id}.${beat.id}.${id}`)
      }
    for (const person of this.first(story.cast, (id) => id))
      person.called?.forEach(({ when }, at) => {
        const expr = this.condition(when, `${person.id}#called${at + 1}`, 'when')
        if (expr !== undefined) this.readBy(expr)
      })
    for (const { scene, beats: own } of beats) {
      this.scene = scene.id
      for (const { beat, choices } of own) {
        const address = `${scene.id}.${beat.id}`
        const lineIds = new Set<string>()
        for (const [line, own] of plainLinesOf(beat.lines, address)) {
          if (line.id === undefined) continue
          if (lineIds.has(line.id)) this.problem(own, 'id')
          else this.source(`line/${address}/${line.id}`, line.text)
          lineIds.add(line.id)
        }
        this.rules(beat.redirects, `${address}#redirect`)
        this.owners(beat.arrive, `${address}#arrive`)
        beat.lines?.forEach((line, at) => this.line(line, `${address}#line${at + 1}`))
        for (const choice of choices) {
          const own = `${address}.${choice.id}`
          this.issued(choice.cues, own)
          if (choice.who !== undefined && !this.people.has(choice.who)) this.problem(own, 'who')
          this.text(choice.text, own, 'text')
          this.source(`choice/${own}`, choice.text)
          this.owner(choice, own)
          if (typeof choice.to === 'string') this.road(choice.to, own)
          else this.rules(choice.to, `${own}#`)
        }
        if (beat.ask !== undefined) {
          this.text(beat.ask.prompt, address, 'prompt')
          this.source(`prompt/${address}`, beat.ask.prompt)
          beat.ask.suggest?.forEach((_, at) => this.source(`suggest/${address}/${at + 1}`, undefined))
          const fallback = beat.ask.default?.trim() ?? ''
          if (fallback !== '' && this.entry(beat.ask.into)?.kind === 'text') this.literals.add(fallback)
          const into = this.entry(beat.ask.into)
          if (into?.kind === 'text' && into.given === undefined) this.writes.add(into.id)
          else this.problem(address, 'into')
        }
        if (beat.ending !== undefined && !this.endings.has(beat.ending)) this.problem(address, 'ending')
        this.rules(beat.onward, `${address}#onward`)
      }
    }
    this.scene = undefined
    for (const { quest, stage } of this.journals) {
      if (stage.journal === undefined) continue
      this.text(stage.journal, `${quest}.${stage.id}`, 'journal')
      this.source(`journal/${quest}.${stage.id}`, stage.journal)
    }
    for (const id of this.people) this.source(`person/${id}`, undefined)
    for (const id of this.endings) this.source(`ending/${id}`, undefined)
    for (const [id, stages] of this.quests) {
      this.source(`quest/${id}`, undefined)
      for (const stage of stages.slice(1)) this.source(`stage/${id}.${stage}`, undefined)
    }
    for (const [language, { texts }] of Object.entries(story.languages ?? {}))
      for (const [key, { text }] of Object.entries(texts)) this.translation(key, text, language)
    this.inPromise = true
    for (const promise of this.first(story.promises, (id) => id)) {
      const parts = Object.entries(promise).filter(([key]) => ['holds', 'while', 'first', 'then'].includes(key))
      for (const [part, source] of parts) {
        const expr = this.condition(String(source), promise.id, part)
        if (expr !== undefined) this.readBy(expr)
      }
    }
    this.first(story.routes, (id) => id)
    if (!this.beats.has(story.start)) this.problem('story', 'start')
    return {
      problems: this.problems,
      read: this.reads,
      written: this.writes,
      words: this.words(),
      given: this.given(),
      entries: [...this.entries.keys()],
    }
  }

  /** A text that can be translated, as it is read where it stands; `undefined`: a name. */
  private source(key: string, text: string | undefined): void {
    this.sources.set(key, { text, scene: this.scene })
  }

  private translation(key: string, text: string, language: string): void {
    const source = this.sources.get(key)
    if (source === undefined) return
    this.scene = source.scene
    const of = source.text === undefined ? new Set<string>() : this.shownBy(source.text)
    const isBraced = source.text === undefined && /[{}]/.test(text)
    const shown = isBraced ? undefined : this.shownBy(text)
    if (of !== undefined && (shown === undefined || [...shown].some((name) => !of.has(name))))
      this.problem(key, language)
    this.scene = undefined
  }

  /** What a text shows or chooses by; undefined where it can't be understood. */
  private shownBy(text: string): Set<string> | undefined {
    const names = new Set<string>()
    const known = new Set(this.problems)
    const [reads, literals] = [new Set(this.reads), new Set(this.literals)]
    this.text(text, '?', '?', (name) => names.add(name))
    const isSound = !this.problems.has('? | ?')
    this.problems.clear()
    for (const problem of known) this.problems.add(problem)
    // a translation reads nothing for the story
    this.reads.clear()
    for (const read of reads) this.reads.add(read)
    this.literals.clear()
    for (const literal of literals) this.literals.add(literal)
    return isSound ? names : undefined
  }

  private problem(address: string, part: string): void {
    this.problems.add(`${address} | ${part}`)
  }

  /** Those whose id stands there for the first time; the others are problems. */
  private first<T extends { readonly id: string }>(
    list: readonly T[] | undefined,
    address: (id: string) => string,
    known = new Set<string>(),
  ): T[] {
    return (list ?? []).filter(({ id }) => {
      if (!known.has(id)) {
        known.add(id)
        return true
      }
      this.problem(address(id), 'id')
      return false
    })
  }

  private declared(list: readonly { readonly id: string }[] | undefined, address: (id: string) => string): Set<string> {
    return new Set(this.first(list, address).map(({ id }) => id))
  }

  private declareEntry(entry: Entry, scene: string | undefined): void {
    this.entries.set(entry.id, { entry, scene })
    if (entry.kind === 'switch') {
      const { positions, initial } = entry
      if (positions.length === 0 || new Set(positions).size < positions.length) this.problem(entry.id, 'positions')
      if (initial !== undefined && !positions.includes(initial)) this.problem(entry.id, 'initial')
    }
    if (entry.kind === 'counter' || entry.kind === 'item') {
      const min = entry.kind === 'item' ? 0 : entry.min
      if (entry.max < min) this.problem(entry.id, 'max')
      const initial = entry.initial ?? min
      if (initial < min || initial > Math.max(min, entry.max)) this.problem(entry.id, 'initial')
    }
    if (entry.kind === 'text') this.literals.add(entry.initial ?? '')
  }

  /** An entry that may be used here. */
  private entry(id: string): Entry | undefined {
    const found = this.entries.get(id)
    return found !== undefined && (found.scene === undefined || found.scene === this.scene) ? found.entry : undefined
  }

  private rules(rules: readonly Rule[] | undefined, prefix: string): void {
    this.owners(rules, prefix)
    rules?.forEach(({ to }, at) => this.road(to, `${prefix}${at + 1}`))
  }

  private owners(
    list: readonly { when?: string | undefined; do?: string[] | undefined }[] | undefined,
    prefix: string,
  ) {
    list?.forEach((one, at) => this.owner(one, `${prefix}${at + 1}`))
  }

  private owner(owner: { when?: string | undefined; do?: string[] | undefined }, address: string): void {
    if (owner.when !== undefined) {
      const expr = this.condition(owner.when, address, 'when')
      if (expr !== undefined) this.readBy(expr)
    }
    owner.do?.forEach((source, at) => {
      const parsed = parseEffect(source)
      if (parsed.ok && this.isSound(parsed.value)) this.executed(parsed.value)
      else this.problem(address, `do${at + 1}`)
    })
  }

  private road(to: string, address: string): void {
    if (to !== 'return' && !this.beats.has(to)) this.problem(address, 'to')
  }

  private line(line: Line, address: string): void {
    if ('firstOf' in line) {
      line.firstOf.forEach((variant, at) => {
        const own = `${address}.variant${at + 1}`
        this.owner(variant, own)
        variant.lines?.forEach((inner, number) => this.line(inner, `${own}.line${number + 1}`))
        this.turns(variant, own)
      })
      return
    }
    if ('inTurn' in line) {
      if (line.when !== undefined) this.owner({ when: line.when }, address)
      this.turns(line, address)
      return
    }
    this.issued(line.cues, address)
    if (line.speaker !== undefined && !this.people.has(line.speaker)) this.problem(address, 'speaker')
    this.text(line.text, address, 'text')
    this.owner(line, address)
  }

  private issued(cues: readonly CueUse[] | undefined, address: string): void {
    cues?.forEach(({ cue }, at) => {
      if (!this.cues.has(cue)) this.problem(address, `cue${at + 1}`)
    })
  }

  private turns({ order, inTurn }: Pick<Variant, 'order' | 'inTurn'>, address: string): void {
    inTurn?.forEach(({ lines }, at) => {
      lines.forEach((line, number) => {
        const own = `${address}.turn${at + 1}.line${number + 1}`
        // which turn is shown is the game's, so nothing may hang on it
        if (order === 'any') line.do?.forEach((_, effect) => this.problem(own, `do${effect + 1}`))
        this.line(order === 'any' ? { ...line, do: [] } : line, own)
      })
    })
  }

  private text(source: string, address: string, part: string, shows: (name: string) => void = () => undefined): void {
    let elements: MessageFormatElement[]
    try {
      elements = parse(source, { ignoreTag: true, requiresOtherClause: true })
    } catch {
      return this.problem(address, part)
    }
    const used: string[] = []
    const keys: string[] = []
    const isSound = (list: readonly MessageFormatElement[]): boolean =>
      list.every((element) => {
        if (element.type === TYPE.literal || element.type === TYPE.pound) return true
        if (element.type === TYPE.tag || element.type === TYPE.date || element.type === TYPE.time) return false
        const name = element.value
        shows(name)
        if (name.startsWith('person_')) return this.isSoundName(element, name.slice('person_'.length), isSound)
        const quest = name.startsWith('quest_') ? this.quests.get(name.slice('quest_'.length)) : undefined
        const entry = this.entry(name)
        if (quest === undefined && entry === undefined) return false
        const isNumber = entry?.kind === 'counter' || entry?.kind === 'item'
        if ((element.type === TYPE.plural || element.type === TYPE.number) && !isNumber) return false
        if (entry !== undefined) used.push(entry.id)
        if (element.type !== TYPE.select && element.type !== TYPE.plural) return true
        if (entry?.kind === 'text') keys.push(...Object.keys(element.options))
        return Object.values(element.options).every(({ value }) => isSound(value))
      })
    if (!isSound(elements)) return this.problem(address, part)
    for (const id of used) this.reads.add(id)
    for (const key of keys) this.literals.add(key)
  }

  private isSoundName(
    element: MessageFormatElement,
    person: string,
    isSound: (list: readonly MessageFormatElement[]) => boolean,
  ): boolean {
    if (!this.people.has(person) || element.type === TYPE.plural || element.type === TYPE.number) return false
    return element.type !== TYPE.select || Object.values(element.options).every(({ value }) => isSound(value))
  }

  private condition(source: string, address: string, part: string): Expr | undefined {
    const parsed = parseExpression(source)
    if (parsed.ok && this.typeOf(parsed.value)?.type === 'bool') return parsed.value
    this.problem(address, part)
    return undefined
  }

  private isSound(effect: Effect): boolean {
    const { value } = effect
    if (effect.kind === 'stage')
      return value.kind === 'string' && (this.quests.get(effect.quest)?.includes(value.value) ?? false)
    const entry = this.entry(effect.entry)
    if (entry?.given !== undefined) return false
    switch (entry?.kind) {
      case undefined:
        return false
      case 'flag':
        return effect.kind === 'set' && this.typeOf(value)?.type === 'bool'
      case 'switch':
        return effect.kind === 'set' && value.kind === 'string' && entry.positions.includes(value.value)
      case 'text':
        return (
          effect.kind === 'set' &&
          (value.kind === 'string' || (value.kind === 'entry' && this.entry(value.id)?.kind === 'text'))
        )
      case 'counter':
      case 'item':
        return this.typeOf(value)?.type === 'int'
    }
  }

  private executed(effect: Effect): void {
    if (effect.kind === 'stage') return
    this.writes.add(effect.entry)
    this.readBy(effect.value)
    if (this.entries.get(effect.entry)!.entry.kind !== 'text') return
    if (effect.value.kind === 'string') this.literals.add(effect.value.value)
  }

  /** The type of an expression; undefined where something in it does not fit. */
  private typeOf(expr: Expr): Typed | undefined {
    const all = (type: Type, ...parts: readonly Expr[]): boolean =>
      parts.every((part) => this.typeOf(part)?.type === type)
    const bool: Typed = { type: 'bool' }
    switch (expr.kind) {
      case 'bool':
      case 'int':
      case 'string':
        return { type: expr.kind }
      case 'entry': {
        const entry = this.entry(expr.id)
        if (entry === undefined) return undefined
        if (entry.kind === 'switch') return { type: 'string', of: entry.positions }
        return { type: entry.kind === 'flag' ? 'bool' : entry.kind === 'text' ? 'string' : 'int' }
      }
      case 'quest': {
        const stages = this.quests.get(expr.id)
        return stages && { type: 'string', of: stages }
      }
      case 'visits':
        return this.beats.has(expr.beat) ? { type: 'int' } : undefined
      case 'taken':
        return this.choices.has(expr.choice) ? bool : undefined
      case 'at':
        return this.inPromise && this.beats.has(expr.beat) ? bool : undefined
      case 'ended':
        return this.inPromise && this.endings.has(expr.ending) ? bool : undefined
      case 'order':
        return this.typeOf(expr.subject)?.of?.includes(expr.position) === true ? bool : undefined
      case 'not':
        return all('bool', expr.operand) ? bool : undefined
      case 'and':
      case 'or':
        return all('bool', expr.left, expr.right) ? bool : undefined
      case 'negate':
        return all('int', expr.operand) ? { type: 'int' } : undefined
      case 'arithmetic':
        return all('int', expr.left, expr.right) ? { type: 'int' } : undefined
      case 'compare':
        if (expr.op !== '==' && expr.op !== '!=') return all('int', expr.left, expr.right) ? bool : undefined
        return this.areComparable(expr.left, expr.right) ? bool : undefined
      case 'in':
        // nothing to be held against is still something that has to be understood
        return this.typeOf(expr.left) !== undefined && expr.items.every((item) => this.areComparable(expr.left, item))
          ? bool
          : undefined
    }
  }

  private areComparable(a: Expr, b: Expr): boolean {
    const [left, right] = [this.typeOf(a), this.typeOf(b)]
    if (left === undefined || left.type !== right?.type) return false
    if (a.kind === 'string' && right.of !== undefined && !right.of.includes(a.value)) return false
    return !(b.kind === 'string' && left.of !== undefined && !left.of.includes(b.value))
  }

  private readBy(expr: Expr): void {
    const parts = [...partsOf(expr)]
    for (const part of parts) if (part.kind === 'entry') this.reads.add(part.id)
    // what a word may be told apart from: all strings in an expression that names a text
    const texts = parts.filter((part) => part.kind === 'entry' && this.entries.get(part.id)!.entry.kind === 'text')
    if (texts.length === 0) return
    if (texts.length > 1) this.comparesTexts = true
    for (const part of parts) {
      if (part.kind === 'string') this.literals.add(part.value)
      if (part.kind === 'quest' || part.kind === 'entry')
        for (const word of this.typeOf(part)?.of ?? []) this.literals.add(word)
    }
  }

  private given(): PlainDocument['given'] {
    const found = new Map<string, { when: WhenGiven; values: EntryValue[] }>()
    for (const [id, { entry }] of this.entries) {
      if (entry.given === undefined) continue
      found.set(id, { when: entry.given, values: this.valuesOf(entry) })
    }
    return found
  }

  private valuesOf(entry: Entry): EntryValue[] {
    switch (entry.kind) {
      case 'flag':
        return [false, true]
      case 'switch':
        return [...new Set(entry.positions)]
      case 'text':
        return [...new Set(['', ...this.words()])]
      case 'counter':
      case 'item': {
        const min = entry.kind === 'counter' ? entry.min : 0
        return Array.from({ length: Math.max(0, entry.max - min) + 1 }, (_, at) => min + at)
      }
    }
  }

  /** Every string that some text is held against, and as many others as texts can hold at once where they are held against each other. */
  private words(): string[] {
    const texts = [...this.entries.values()].filter(({ entry }) => entry.kind === 'text').length
    const others = Array.from({ length: this.comparesTexts ? texts : 1 }, (_, at) => `another ${at + 1}`)
    return [...new Set([...this.literals, ...others, ...this.others])].filter(
      (word) => word !== '' && word.trim() === word,
    )
  }
}

function* partsOf(expr: Expr): Generator<Expr> {
  yield expr
  switch (expr.kind) {
    case 'and':
    case 'or':
    case 'arithmetic':
    case 'compare':
      yield* partsOf(expr.left)
      yield* partsOf(expr.right)
      return
    case 'not':
    case 'negate':
      yield* partsOf(expr.operand)
      return
    case 'order':
      yield* partsOf(expr.subject)
      return
    case 'in':
      yield* partsOf(expr.left)
      for (const item of expr.items) yield* partsOf(item)
      return
    case 'bool':
    case 'int':
    case 'string':
    case 'entry':
    case 'quest':
    case 'visits':
    case 'taken':
    case 'at':
    case 'ended':
      return
  }
}

/** The plain lines of a beat in its order, each with its address. */
function plainLinesOf(lines: readonly Line[] | undefined, beat: string): [PlainLine, string][] {
  return (lines ?? []).flatMap((line, at): [PlainLine, string][] => {
    const own = `${beat}#line${at + 1}`
    const plain = (list: readonly PlainLine[] | undefined, before: string) =>
      (list ?? []).map((inner, number): [PlainLine, string] => [inner, `${before}.line${number + 1}`])
    const turns = (list: readonly Turn[] | undefined, before: string) =>
      (list ?? []).flatMap(({ lines: inner }, t) => plain(inner, `${before}.turn${t + 1}`))
    if ('inTurn' in line) return turns(line.inTurn, own)
    if (!('firstOf' in line)) return [[line, own]]
    return line.firstOf.flatMap((variant, v) => {
      const before = `${own}.variant${v + 1}`
      return [...plain(variant.lines, before), ...turns(variant.inTurn, before)]
    })
  })
}
