import { ALL_PROMISE_PARTS } from '../promise-parts'
import type { Effect, Expr } from '../../expression/ast'
import { printEffect, printExpression } from '../../expression/print'
import type { Change } from '../changes/types'
import { cachedEffect, cachedExpression } from '../link-parts'
import { translationChanges } from './translations'
import {
  isGroup,
  isInTurn,
  type Beat,
  type CueUse,
  type EntryValue,
  type RouteItem,
  type Line,
  type Person,
  type PlainLine,
  type Quest,
  type Route,
  type Rule,
  type SetAside,
  type Story,
  type Turn,
} from '../types'

/** What is put in place of what; a part that is left out stays as it is. */
export interface Mapping {
  /** Text that the player reads: lines, choices, prompts. */
  readonly text?: (source: string) => string
  /** One part of an expression whose own parts are mapped already. */
  readonly expr?: (part: Expr) => Expr
  /** An effect whose value is mapped already. */
  readonly effect?: (effect: Effect) => Effect
  /** The address of a beat or choice. */
  readonly address?: (address: string) => string
  /** The key of a translation, where it does not just follow what it names. */
  readonly key?: (key: string) => string
  /** The beat at which a kept route types a word; as `address` where it is left out. */
  readonly asked?: (address: string) => string
  readonly person?: (id: string) => string
  readonly ending?: (id: string) => string
  readonly cue?: (id: string) => string
  readonly entry?: (id: string) => string
  readonly quest?: (id: string) => string
  /** What a kept route expects an entry or a quest to hold at its end. */
  readonly held?: (of: 'entry' | 'quest', id: string, value: boolean | number | string) => boolean | number | string
}

const same = <T>(value: T): T => value

/** Rewrites the parts of a story; whatever holds nothing to rewrite comes back as the same object. */
export class Rewriter {
  /** Gates, effects, texts, roads and names that were rewritten. */
  count = 0

  constructor(private readonly mapping: Mapping) {}

  /** The replacements of every beat, promise and route that has something to rewrite; `own` changes a beat first. */
  changes(story: Story, own: (scene: string, beat: Beat) => Beat = (_, beat) => beat): Change[] {
    const changes: Change[] = []
    for (const scene of story.scenes) {
      scene.beats.forEach((beat, at) => {
        const item = this.beat(own(scene.id, beat))
        if (item !== beat)
          changes.push({ op: 'replace', in: { list: 'beats', scene: scene.id }, id: beat.id, at, item })
      })
    }
    story.promises?.forEach((promise, at) => {
      const item = this.conditions(promise, ALL_PROMISE_PARTS)
      if (item !== promise) changes.push({ op: 'replace', in: { list: 'promises' }, id: promise.id, at, item })
    })
    story.routes?.forEach((route, at) => {
      const item = this.route(route)
      if (item !== route) changes.push({ op: 'replace', in: { list: 'routes' }, id: route.id, at, item })
    })
    story.setAside?.forEach((one, at) => {
      const item = this.setAside(one)
      if (item !== one) changes.push({ op: 'replace', in: { list: 'setAside' }, id: one.id, at, item })
    })
    story.quests?.forEach((quest, at) => {
      const item = this.quest(quest)
      if (item !== quest) changes.push({ op: 'replace', in: { list: 'quests' }, id: quest.id, at, item })
    })
    story.cast?.forEach((person, at) => {
      const item = this.person(person)
      if (item !== person) changes.push({ op: 'replace', in: { list: 'cast' }, id: person.id, at, item })
    })
    changes.push(...translationChanges(story, { key: (key) => this.key(key), text: (source) => this.text(source) }))
    const start = this.address(story.start)
    if (start !== story.start) changes.push({ op: 'set-story', values: { start } })
    return changes
  }

  /** The key of a translation follows what it names; nobody counts that as a mention. */
  private key(key: string): string {
    const moved = this.mapping.key?.(key) ?? key
    if (moved !== key) return moved
    const [kind = '', name = '', rest] = key.split('/')
    const { address = same, person = same, ending = same, quest = same, held } = this.mapping
    const tail = rest === undefined ? '' : `/${rest}`
    switch (kind) {
      case 'line':
      case 'choice':
      case 'prompt':
      case 'suggest':
        return `${kind}/${address(name)}${tail}`
      case 'person':
        return `${kind}/${person(name)}`
      case 'ending':
        return `${kind}/${ending(name)}`
      case 'quest':
        return `${kind}/${quest(name)}`
      case 'stage':
      case 'journal': {
        const [of = '', stage = ''] = name.split('.')
        return `${kind}/${quest(of)}.${held === undefined ? stage : String(held('quest', of, stage))}`
      }
      default:
        return key
    }
  }

  /** When a person is called otherwise. */
  person(person: Person): Person {
    return patch(person, { called: person.called && mapped(person.called, (one) => this.conditions(one, ['when'])) })
  }

  private cues(cues: CueUse[] | undefined): CueUse[] | undefined {
    return cues && mapped(cues, (one) => patch(one, { cue: this.name('cue', one.cue) }))
  }

  /** What the journal reads at each of its stages. */
  quest(quest: Quest): Quest {
    return patch(quest, {
      stages: mapped(quest.stages, (stage) =>
        stage.journal === undefined ? stage : patch(stage, { journal: this.text(stage.journal) }),
      ),
    })
  }

  beat(beat: Beat): Beat {
    const rules = (list: Rule[] | undefined) => list && mapped(list, (rule) => this.rule(rule))
    return patch(beat, {
      redirects: rules(beat.redirects),
      arrive: beat.arrive && mapped(beat.arrive, (rule) => this.owner(rule)),
      lines: beat.lines && mapped(beat.lines, (line) => this.line(line)),
      ending: this.name('ending', beat.ending),
      ask: beat.ask && patch(beat.ask, { into: this.name('entry', beat.ask.into), prompt: this.text(beat.ask.prompt) }),
      choices:
        beat.choices &&
        mapped(beat.choices, (choice) =>
          patch(this.owner(choice), {
            text: this.text(choice.text),
            who: this.name('person', choice.who),
            cues: this.cues(choice.cues),
            to: typeof choice.to === 'string' ? this.address(choice.to) : mapped(choice.to, (rule) => this.rule(rule)),
          }),
        ),
      onward: rules(beat.onward),
    })
  }

  /** What a finding is about follows the beats and choices; nobody counts that as a mention. */
  private setAside(one: SetAside): SetAside {
    const { address } = this.mapping
    if (address === undefined) return one
    const about = mapped(one.about, (part) => {
      const [, place = '', inner = ''] = /^([^#]*)(#.*)?$/.exec(part) ?? []
      return place.includes('.') ? address(place) + inner : part
    })
    return patch(one, { about })
  }

  private route(route: Route): Route {
    const { expect } = route
    return patch(route, {
      decisions: mapped(route.decisions, (decision) => this.decision(decision)),
      expect:
        expect &&
        patch(expect, {
          ending: this.name('ending', expect.ending),
          stages: this.held('quest', expect.stages),
          ledger: this.held('entry', expect.ledger),
        }),
    })
  }

  /** Values by the entry or quest that holds them. */
  private held<T extends EntryValue>(
    of: 'entry' | 'quest',
    values: Record<string, T> | undefined,
  ): Record<string, T> | undefined {
    if (values === undefined) return undefined
    const pairs = Object.entries(values).map(([id, value]): [string, T] => {
      const next = this.mapping.held === undefined ? value : this.counted(this.mapping.held(of, id, value), value)
      return [this.name(of, id)!, next as T]
    })
    return pairs.every(([id, value]) => id in values && values[id] === value) ? values : Object.fromEntries(pairs)
  }

  private decision(decision: RouteItem): RouteItem {
    if ('given' in decision) return patch(decision, { given: this.held('entry', decision.given)! })
    return 'choice' in decision
      ? patch(decision, { choice: this.address(decision.choice) })
      : patch(decision, {
          at:
            this.mapping.asked === undefined
              ? this.address(decision.at)
              : this.counted(this.mapping.asked(decision.at), decision.at),
        })
  }

  private line(line: Line): Line {
    if (isInTurn(line)) return patch(this.conditions(line, ['when']), { inTurn: this.turns(line.inTurn) })
    if (!isGroup(line)) return this.plainLine(line)
    const firstOf = mapped(line.firstOf, (variant) =>
      patch(this.conditions(variant, ['when']), {
        lines: variant.lines && mapped(variant.lines, (inner): PlainLine => this.plainLine(inner)),
        inTurn: variant.inTurn && this.turns(variant.inTurn),
      }),
    )
    return patch(line, { firstOf })
  }

  private turns(turns: Turn[]): Turn[] {
    return mapped(turns, (turn) =>
      patch(turn, { lines: mapped(turn.lines, (inner): PlainLine => this.plainLine(inner)) }),
    )
  }

  private plainLine(line: PlainLine): PlainLine {
    return patch(this.owner(line), {
      text: this.text(line.text),
      speaker: this.name('person', line.speaker),
      cues: this.cues(line.cues),
    })
  }

  private rule(rule: Rule): Rule {
    return patch(this.owner(rule), { to: this.address(rule.to) })
  }

  private owner<T extends { do?: string[] | undefined }>(owner: T): T {
    const next = this.conditions(owner, ['when'])
    return next.do === undefined
      ? next
      : patch(next, { do: mapped(next.do, (effect) => this.effect(effect)) } as Partial<T>)
  }

  private conditions<T extends object>(object: T, keys: readonly string[]): T {
    const texts = object as Record<string, unknown>
    const next: Record<string, unknown> = {}
    for (const key of keys) if (typeof texts[key] === 'string') next[key] = this.condition(texts[key])
    return patch(object, next as Partial<T>)
  }

  private text(source: string): string {
    return this.counted((this.mapping.text ?? same)(source), source)
  }

  private address(address: string): string {
    return this.counted((this.mapping.address ?? same)(address), address)
  }

  private name(of: 'person' | 'ending' | 'entry' | 'quest' | 'cue', id: string | undefined): string | undefined {
    return id === undefined ? undefined : this.counted((this.mapping[of] ?? same)(id), id)
  }

  private counted<T extends boolean | number | string>(next: T, before: T): T {
    if (next !== before) this.count += 1
    return next
  }

  condition(source: string): string {
    const parsed = cachedExpression(source)
    if (!parsed.ok) return source
    const expr = this.expr(parsed.value)
    return expr === parsed.value ? source : this.counted(printExpression(expr), source)
  }

  private effect(source: string): string {
    const parsed = cachedEffect(source)
    if (!parsed.ok) return source
    const effect = (this.mapping.effect ?? same)(patch(parsed.value, { value: this.expr(parsed.value.value) }))
    return effect === parsed.value ? source : this.counted(printEffect(effect), source)
  }

  private expr(expr: Expr): Expr {
    return (this.mapping.expr ?? same)(this.inside(expr))
  }

  private inside(expr: Expr): Expr {
    const address = this.mapping.address ?? same
    switch (expr.kind) {
      case 'visits':
      case 'at':
        return patch(expr, { beat: address(expr.beat) })
      case 'taken':
        return patch(expr, { choice: address(expr.choice) })
      case 'ended':
        return patch(expr, { ending: (this.mapping.ending ?? same)(expr.ending) })
      case 'not':
      case 'negate':
        return patch(expr, { operand: this.expr(expr.operand) })
      case 'and':
      case 'or':
      case 'compare':
      case 'arithmetic':
        return patch(expr, { left: this.expr(expr.left), right: this.expr(expr.right) })
      case 'in':
        return patch(expr, { left: this.expr(expr.left), items: mapped(expr.items, (item) => this.expr(item)) })
      case 'order':
        return patch(expr, { subject: this.expr(expr.subject) })
      case 'bool':
      case 'entry':
      case 'int':
      case 'quest':
      case 'string':
        return expr
    }
  }
}

/** The list with every item changed; the same list when no item did. */
export function mapped<T, L extends readonly T[]>(items: L, change: (item: L[number]) => T): L {
  const next = items.map(change)
  return next.every((item, at) => item === items[at]) ? items : (next as unknown as L)
}

/** The object with some keys set; the same object when nothing differs. */
export function patch<T extends object>(object: T, keys: Partial<T>): T {
  const changed = (Object.keys(keys) as (keyof T)[]).filter((key) => keys[key] !== object[key])
  if (changed.length === 0) return object
  const next = { ...object }
  for (const key of changed) next[key] = keys[key]!
  return next
}
