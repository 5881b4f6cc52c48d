import { IntlMessageFormat } from 'intl-messageformat'
import { evaluate, type Env, type Value } from '../../src/core/expression/evaluate'
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
} from '../../src/core/story/linked'
import { finding, type Finding } from '../../src/core/survey/findings/finding'
import type { SurveyResult } from '../../src/core/survey/result'
import { decisionsIn, type RouteItem, type Route } from '../../src/core/story/types'
import { plainDocument, type PlainDocument } from './document'

/** Every field of a line is played here. */
type KnownLine = WholeLine<
  Exclude<keyof LinkedLine, 'kind' | 'id' | 'address' | 'when' | 'effects' | 'text' | 'cues' | 'speaker' | 'manner'>
>

/**
 * A second checker, as plain as can be: concrete states as JSON strings in a map, one step after
 * another as the specification words them, nothing left out, nothing merged. The fast survey must
 * agree with it. It shares the parser and the linked story with it, not play and not the search.
 */

export interface State {
  at: number
  mode: 'choice' | 'word' | 'ended' | 'stuck'
  ledger: Record<string, boolean | number | string>
  stages: Record<string, string>
  visits: Record<string, number>
  taken: Record<string, true>
  /** By address of the group in turn: which turn comes next, or how many there are once all are used up. */
  turns: Record<string, number>
  place: number
}

export interface Node {
  readonly state: State
  depth: number
  isDead: boolean
  /** `free`: no decision, but a change of what is given. Without a label it rests where it was. */
  readonly next: { readonly label: string | undefined; readonly to: string | 'endless'; readonly free: boolean }[]
}

type Ledger = State['ledger']

function copyOf(state: State): State {
  const { ledger, stages, visits, taken, turns } = state
  return {
    ...state,
    ledger: { ...ledger },
    stages: { ...stages },
    visits: { ...visits },
    taken: { ...taken },
    turns: { ...turns },
  }
}

const COUNT_MAX = 24
const COUNT_OVER = 12
/** Beats that are gone through before it is asked whether all is as it was: no sooner than each was counted as often as it is. */
const WALKS_MOST = 200

export interface PlainResult {
  readonly items: ReadonlySet<string>
  readonly states: number
}

/** Every verdict as a line of text; undefined when there are more states than `limit`. */
export function plainSurvey(story: LinkedStory, limit: number): PlainResult | undefined {
  return new PlainChecker(story, limit).run()
}

/** The same lines from the fast survey's result. */
export function itemsOf(result: SurveyResult): Set<string> {
  const items = new Set<string>()
  for (const [what, found] of Object.entries(result.reached)) {
    for (const [address, { decisions }] of Object.entries(found))
      items.add(`reached ${what} ${address} in ${decisions}`)
  }
  for (const [what, missing] of Object.entries(result.unreached))
    for (const address of missing) items.add(`unreached ${what} ${address}`)
  for (const [id, { verdict }] of Object.entries(result.promises)) items.add(`promise ${id} ${verdict}`)
  for (const found of result.findings) items.add(findingItem(found))
  return items
}

function findingItem({ kind, level, key, route }: Finding): string {
  const length = [
    'dead-end',
    'no-way-out',
    'stranded-stage',
    'left-open',
    'overrun',
    'unset-text',
    'undeclared-move',
    'endless-run',
    'promise-broken',
  ].includes(kind)
    ? ` in ${route === undefined ? 'no route' : decisionsIn(route)}`
    : ''
  return `${kind} ${level} ${key.join(' | ')}${length}`
}

export class PlainChecker {
  readonly nodes = new Map<string, Node>()
  private readonly first = new Map<string, number>()
  private readonly whens = new Map<string, Set<boolean>>()
  readonly document: PlainDocument
  private readonly found: Finding[] = []
  private readonly formats = new Map<LinkedText, IntlMessageFormat>()
  private decisions = 0

  /** `words`: what else texts are held against; where it is given, turns are counted, as another version may count them otherwise. */
  constructor(
    readonly story: LinkedStory,
    private readonly limit: number,
    private readonly words?: readonly string[],
  ) {
    this.document = plainDocument(story.doc, words)
  }

  run(): PlainResult | undefined {
    const starts = this.starts()
    if (!this.explore(starts.values())) return undefined
    return this.told(new Set(starts.keys()))
  }

  /** Where the story can begin. */
  starts(): Map<string, State> {
    const { story } = this
    const starts = new Map<string, State>()
    const initial = Object.fromEntries(story.entries.map((entry) => [entry.id, entry.initial]))
    for (const given of this.combinations(() => true, initial)) {
      const opening = this.begun(given)
      if (opening === undefined || opening === 'endless') continue
      starts.set(JSON.stringify(opening), opening)
    }
    return starts
  }

  /** Everything that comes of some states; false where there are too many. */
  explore(starts: Iterable<State>): boolean {
    const { story } = this
    // states of one depth; what a change leads to comes to the same list, what a decision does to the next
    let level = [...starts].map((state) => [JSON.stringify(state), state] as const)
    for (let depth = 0; level.length > 0; depth += 1) {
      const next: (typeof level)[number][] = []
      for (const [name, state] of level) {
        if (this.nodes.has(name)) continue
        if (this.nodes.size > this.limit) return false
        const node: Node = { state, depth, isDead: false, next: [] }
        this.nodes.set(name, node)
        this.decisions = depth
        this.look(state)
        const add = (label: string | undefined, to: State | 'endless', free: boolean) => {
          const name = to === 'endless' ? to : JSON.stringify(to)
          if (to !== 'endless') (free ? level : next).push([name, to])
          node.next.push({ label, to: name, free })
        }
        let isStuck = state.mode === 'stuck'
        for (const { to, moved } of this.changes(state)) {
          isStuck &&= !moved && to !== 'endless' && to.mode === 'stuck'
          add(moved ? story.beats[state.at]!.address : undefined, to, true)
        }
        node.isDead = isStuck
        if (isStuck) this.event('dead-end', story.beats[state.at]!.address)
        this.decisions = depth + 1
        for (const { label, to } of this.successors(state)) add(label, to, false)
      }
      level = next
    }
    return true
  }

  private told(starts: ReadonlySet<string>): PlainResult {
    const { story } = this
    this.unreached()
    this.graphFindings(starts)
    const promises = this.promises(starts)
    for (const [address, seen] of this.whens)
      if (seen.has(true) && !seen.has(false)) this.found.push(finding('always-open', [address, 'when'], ''))
    for (const name of this.document.problems) this.found.push(finding('problem', name.split(' | '), ''))
    for (const id of this.document.entries) {
      if (!this.document.read.has(id)) this.found.push(finding('unread', [id], ''))
      if (!this.document.written.has(id) && !this.document.given.has(id))
        this.found.push(finding('unwritten', [id], ''))
    }
    for (const route of story.routes) if (!this.plays(route)) this.found.push(finding('route-broken', [route.id], ''))
    const items = new Set(this.found.map(findingItem))
    for (const [name, depth] of this.first) {
      const [what, address] = name.split(' ')
      if (what === 'beats' || what === 'choices' || what === 'endings' || what === 'stages')
        items.add(`reached ${what} ${address} in ${depth}`)
      if (
        what === 'overrun' ||
        what === 'unset-text' ||
        what === 'undeclared-move' ||
        what === 'dead-end' ||
        what === 'endless-run'
      ) {
        items.add(
          `${what} ${what === 'dead-end' || what === 'endless-run' ? 'error' : 'warning'} ${name.slice(what.length + 1)} in ${depth}`,
        )
      }
    }
    for (const promise of promises) items.add(promise)
    const all = {
      beats: story.inOrder.map((beat) => beat.address),
      choices: story.inOrder.flatMap(({ choices }) => choices).map((choice) => choice.address),
      endings: story.endings.map((ending) => ending.id),
      stages: story.quests.flatMap((quest) => quest.stages.slice(1).map((stage) => `${quest.id}.${stage}`)),
    }
    for (const [what, addresses] of Object.entries(all)) {
      for (const address of addresses)
        if (!this.first.has(`${what} ${address}`)) items.add(`unreached ${what} ${address}`)
    }
    return { items, states: this.nodes.size }
  }

  private event(what: string, name: string): void {
    const full = `${what} ${name}`
    if (this.decisions < (this.first.get(full) ?? Infinity)) this.first.set(full, this.decisions)
  }

  // ----- play, section 3

  private env(state: State): Env {
    const beat = state.at === -1 ? undefined : this.story.beats[state.at]
    return {
      entry: (id): Value => state.ledger[id]!,
      quest: (id) => state.stages[id]!,
      visits: (address) => state.visits[address]!,
      taken: (address) => state.taken[address] === true,
      at: (address) => beat?.address === address,
      ended: (id) => state.mode === 'ended' && this.story.endings[beat!.ending]!.id === id,
      order: (subject) =>
        subject.kind === 'quest'
          ? this.story.quests.find((quest) => quest.id === subject.id)!.stages
          : this.story.entries.find((entry) => subject.kind === 'entry' && entry.id === subject.id)!.positions,
    }
  }

  private test(state: State, when: Condition | undefined): boolean {
    if (when === undefined) return true
    const value = when.expr !== undefined && evaluate(when.expr, this.env(state)) === true
    if (!this.whens.has(when.address)) this.whens.set(when.address, new Set())
    this.whens.get(when.address)!.add(value)
    return value
  }

  private leads(state: State, to: Road): boolean {
    return to.kind === 'beat' || (to.kind === 'return' && state.place !== -1)
  }

  private pick(state: State, rules: readonly LinkedRule[]): LinkedRule | undefined {
    for (const rule of rules) if (this.test(state, rule.when) && this.leads(state, rule.to)) return rule
    return undefined
  }

  private execute(state: State, effects: readonly LinkedEffect[], owner: string, silent = false): void {
    for (const { effect } of effects) {
      const value = evaluate(effect.value, this.env(state))
      if (effect.kind === 'stage') {
        const quest = this.story.quests.find(({ id }) => id === effect.quest)!
        const from = state.stages[effect.quest]!
        const to = String(value)
        if (!silent && to !== 'unstarted') this.event('stages', `${quest.id}.${to}`)
        if (!silent && from !== to && quest.moves !== undefined && !quest.moves.has(`${from}>${to}`)) {
          this.event('undeclared-move', [quest.id, from, to].join(' | '))
        }
        state.stages[effect.quest] = to
        continue
      }
      const entry = this.story.entries.find(({ id }) => id === effect.entry)!
      if (typeof value === 'boolean' || typeof value === 'string') {
        state.ledger[entry.id] = value
        continue
      }
      const old = BigInt(state.ledger[entry.id] as number)
      let next =
        effect.kind === 'set' ? BigInt(value) : effect.kind === 'add' ? old + BigInt(value) : old - BigInt(value)
      const clamped = next < entry.min ? BigInt(entry.min) : next > entry.max ? BigInt(entry.max) : next
      if (!silent && clamped !== next) this.event('overrun', `${entry.id} | ${owner}`)
      next = clamped
      state.ledger[entry.id] = Number(next)
    }
  }

  goTo(state: State, target: number): State | 'endless' {
    const seen = new Map<string, number>()
    const trail: number[] = []
    for (;;) {
      // what goes on for ever is still on its way then
      if (trail.length > WALKS_MOST) {
        const name = `${target} ${JSON.stringify(state)}`
        const before = seen.get(name)
        if (before !== undefined) {
          this.event('endless-run', this.story.beats[Math.min(...trail.slice(before))]!.address)
          return 'endless'
        }
        seen.set(name, trail.length)
      }
      trail.push(target)
      const next = this.visit(state, this.story.beats[target]!)
      if (next === undefined) return state
      target = next
    }
  }

  private visit(state: State, beat: LinkedBeat): number | undefined {
    const scene = state.at === -1 ? -1 : this.story.beats[state.at]!.scene
    if (scene !== beat.scene)
      for (const entry of this.story.entries) if (entry.scene === beat.scene) state.ledger[entry.id] = entry.initial
    state.at = beat.index
    const redirect = this.pick(state, beat.redirects)
    if (redirect !== undefined) {
      this.event('beats', beat.address)
      this.event('redirect', redirect.address)
      this.execute(state, redirect.effects, redirect.address)
      return redirect.to.kind === 'beat' ? redirect.to.beat : state.place
    }
    if (beat.place) state.place = beat.index
    state.visits[beat.address] = Math.min(99, state.visits[beat.address]! + 1)
    this.event('beats', beat.address)
    for (const rule of beat.arrive) {
      if (!this.test(state, rule.when)) continue
      this.event('arrive', rule.address)
      this.execute(state, rule.effects, rule.address)
    }
    for (const line of beat.lines) {
      if (line.kind === 'line') {
        this.show(state, line)
        continue
      }
      if (line.kind === 'turns') {
        if (this.test(state, line.when)) this.nextTurn(state, line)
        continue
      }
      const variant = line.variants.find((one) => this.test(state, one.when))
      if (variant === undefined) continue
      this.event('variant', variant.address)
      for (const inner of variant.lines) this.show(state, inner)
      if (variant.turns !== undefined) this.nextTurn(state, variant.turns)
    }
    if (beat.ending !== -1) {
      this.event('endings', this.story.endings[beat.ending]!.id)
      state.mode = 'ended'
      return undefined
    }
    if (beat.ask !== undefined) {
      state.mode = 'word'
      return undefined
    }
    if (beat.choices.filter((choice) => this.isOpen(state, choice)).length > 0) {
      state.mode = 'choice'
      return undefined
    }
    return this.onward(state, beat)
  }

  onward(state: State, beat: LinkedBeat): number | undefined {
    const rule = this.pick(state, beat.onward)
    if (rule === undefined) {
      state.mode = 'stuck'
      return undefined
    }
    this.event('onward', rule.address)
    this.execute(state, rule.effects, rule.address)
    return rule.to.kind === 'beat' ? rule.to.beat : state.place
  }

  private nextTurn(state: State, { address, order, turns }: LinkedTurns): void {
    if (order === 'any') {
      // whichever the game picks, the state stays the same
      for (const turn of turns) {
        this.event('turn', turn.address)
        for (const line of turn.lines) this.show(state, line)
      }
      return
    }
    const times = state.turns[address]!
    if (this.words !== undefined) {
      // groups have few turns: from here on only the remainder counts
      state.turns[address] = times + 1 < COUNT_MAX ? times + 1 : times + 1 - COUNT_OVER
      const last = turns.length - 1
      const shown = { again: times % turns.length, last: Math.min(times, last), once: times }[order]
      if (shown > last) return
      this.event('turn', turns[shown]!.address)
      for (const line of turns[shown]!.lines) this.show(state, line)
      return
    }
    const now = times
    if (now === turns.length) return
    state.turns[address] = now + 1 < turns.length ? now + 1 : { again: 0, last: now, once: now + 1 }[order]
    this.event('turn', turns[now]!.address)
    for (const line of turns[now]!.lines) this.show(state, line)
  }

  private show(state: State, line: KnownLine): void {
    if (!this.test(state, line.when)) return
    this.event('line', line.address)
    this.showText(state, line.text, line.address)
    this.execute(state, line.effects, line.address)
  }

  /** Shown while unset: formats the text with a rare sign in place of each empty entry, and looks for it. */
  private showText(state: State, text: LinkedText, address: string): void {
    if (text.parsed === undefined) return
    for (const entry of this.story.entries) {
      if (entry.kind !== 'text' || this.document.given.has(entry.id) || state.ledger[entry.id] !== '') continue
      // a text that does not name it can't show it
      if (!text.source.includes(entry.id)) continue
      // nor is it shown any sooner than before
      const event = `${entry.id} | ${address}`
      if ((this.first.get(`unset-text ${event}`) ?? Infinity) <= this.decisions) continue
      const values: Record<string, string | number> = {}
      for (const [id, value] of Object.entries(state.ledger))
        values[id] = typeof value === 'boolean' ? String(value) : value
      for (const [id, stage] of Object.entries(state.stages)) values[`quest_${id}`] = stage
      for (const { id, name, called } of this.story.people.values()) {
        const first = called.find(
          ({ when }) => when.expr !== undefined && evaluate(when.expr, this.env(state)) === true,
        )
        values[`person_${id}`] = first?.name ?? name
      }
      const plain = String(this.format(text).format(values))
      values[entry.id] = '\u2603'
      const marked = String(this.format(text).format(values))
      if (plain !== marked && marked.includes('\u2603')) this.event('unset-text', event)
    }
  }

  /** Made once for each text: making one takes longer than all else here. */
  private format(text: LinkedText): IntlMessageFormat {
    const format =
      this.formats.get(text) ?? new IntlMessageFormat([...text.parsed!], 'en', undefined, { ignoreTag: true })
    this.formats.set(text, format)
    return format
  }

  isOpen(state: State, choice: LinkedChoice): boolean {
    if (!this.test(state, choice.when)) return false
    if (choice.once && state.taken[choice.address]) return false
    if (choice.to.kind === 'road') return this.leads(state, choice.to.road)
    const copy = copyOf(state)
    copy.taken[choice.address] = true
    this.execute(copy, choice.effects, choice.address, true)
    return this.pick(copy, choice.to.rules) !== undefined
  }

  private look(state: State): void {
    const beat = this.story.beats[state.at]!
    if (state.mode === 'word') this.showText(state, beat.ask!.prompt, beat.address)
    if (state.mode !== 'choice' && state.mode !== 'stuck') return
    if (beat.ask !== undefined) return
    for (const choice of beat.choices) {
      const open = this.isOpen(state, choice)
      if (open) this.event('choices', choice.address)
      if (open || choice.shownClosed) this.showText(state, choice.text, choice.address)
    }
  }

  private *successors(from: State): Generator<{ label: string; to: State | 'endless' }> {
    const beat = this.story.beats[from.at]!
    if (from.mode === 'word') {
      const words = beat.ask!.into === -1 ? ['Quillon'] : this.document.words
      for (const word of words) yield { label: beat.address, to: this.said(from, beat, word) }
    }
    if (from.mode !== 'choice') return
    for (const choice of beat.choices)
      if (this.isOpen(from, choice)) yield { label: choice.address, to: this.taken(from, choice) }
  }

  private said(from: State, beat: LinkedBeat, word: string): State | 'endless' {
    const { into } = beat.ask!
    const state = copyOf(from)
    if (into !== -1) state.ledger[this.story.entries[into]!.id] = word
    const next = this.onward(state, beat)
    return next === undefined ? state : this.goTo(state, next)
  }

  private taken(from: State, choice: LinkedChoice): State | 'endless' {
    const state = copyOf(from)
    state.taken[choice.address] = true
    this.execute(state, choice.effects, choice.address)
    let road: Road | undefined = choice.to.kind === 'road' ? choice.to.road : undefined
    if (choice.to.kind === 'rules') {
      const rule = this.pick(state, choice.to.rules)!
      this.event('rule', rule.address)
      this.execute(state, rule.effects, rule.address)
      road = rule.to
    }
    return this.goTo(state, road!.kind === 'beat' ? road!.beat : state.place)
  }

  /** What the game may set or leave as it is, each with each other. */
  private combinations(which: (when: 'begin' | 'rest') => boolean, now: Ledger): Ledger[] {
    let all: Ledger[] = [{}]
    for (const [id, { when, values }] of this.document.given)
      if (which(when))
        all = all.flatMap((one) => [...new Set([now[id]!, ...values])].map((value) => ({ ...one, [id]: value })))
    return all
  }

  /** Everything that comes of a change of what is given while the story rests. */
  private *changes(from: State): Generator<{ to: State | 'endless'; moved: boolean }> {
    if (from.mode === 'ended') return
    for (const given of this.combinations((when) => when === 'rest', from.ledger)) {
      if (Object.entries(given).every(([id, value]) => from.ledger[id] === value)) continue
      yield this.changed(from, given)
    }
  }

  private changed(from: State, given: Ledger): { to: State | 'endless'; moved: boolean } {
    const beat = this.story.beats[from.at]!
    const state = copyOf(from)
    Object.assign(state.ledger, given)
    if (from.mode === 'ended' || from.mode === 'word') return { to: from.mode === 'ended' ? from : state, moved: false }
    if (beat.ask === undefined && beat.choices.filter((choice) => this.isOpen(state, choice)).length > 0) {
      state.mode = 'choice'
      return { to: state, moved: false }
    }
    const next = this.onward(state, beat)
    return next === undefined ? { to: state, moved: false } : { to: this.goTo(state, next), moved: true }
  }

  /** Whether the game may set these values. */
  private isGivable(given: Ledger, atBegin: boolean): boolean {
    return Object.entries(given).every(([id, value]) => {
      const entry = this.document.given.get(id)
      if (entry === undefined || (entry.when === 'begin' && !atBegin)) return false
      const declared = this.story.doc.ledger!.find((one) => one.id === id)!
      return declared.kind === 'text'
        ? typeof value === 'string' && value.trim() === value
        : entry.values.includes(value)
    })
  }

  private begun(given: Ledger): State | 'endless' | undefined {
    const { story } = this
    if (story.start === -1) return undefined
    const state: State = { at: -1, mode: 'stuck', ledger: {}, stages: {}, visits: {}, taken: {}, turns: {}, place: -1 }
    for (const entry of story.entries) state.ledger[entry.id] = entry.initial
    Object.assign(state.ledger, given)
    for (const quest of story.quests) state.stages[quest.id] = 'unstarted'
    for (const beat of story.inOrder) state.visits[beat.address] = 0
    for (const { address } of story.turnGroups) state.turns[address] = 0
    return this.goTo(state, story.start)
  }

  /** Whether every decision of a kept route is open in its turn, and what it expects holds at its end. */
  private plays({ decisions, expect }: Route): boolean {
    // what is only tried leaves no trace
    const before = { first: new Map(this.first), whens: structuredClone(this.whens) }
    try {
      const [opening] = decisions
      const given = opening !== undefined && 'given' in opening ? opening.given : {}
      if (!this.isGivable(given, true)) return false
      let state = this.begun(given)
      for (const [at, decision] of decisions.entries()) {
        if (at === 0 && 'given' in decision) continue
        if (state === undefined || state === 'endless') return false
        state = this.decided(state, decision)
      }
      if (state === undefined || state === 'endless') return false
      const ending = state.mode === 'ended' ? this.story.endings[this.story.beats[state.at]!.ending]!.id : undefined
      if (expect?.ending !== undefined && expect.ending !== ending) return false
      const { stages, ledger } = state
      return (
        Object.entries(expect?.stages ?? {}).every(([id, stage]) => stages[id] === stage) &&
        Object.entries(expect?.ledger ?? {}).every(([id, value]) => ledger[id] === value)
      )
    } finally {
      this.first.clear()
      for (const [name, depth] of before.first) this.first.set(name, depth)
      this.whens.clear()
      for (const [name, seen] of before.whens) this.whens.set(name, seen)
    }
  }

  private decided(from: State, decision: RouteItem): State | 'endless' | undefined {
    const beat = this.story.beats[from.at]!
    if ('given' in decision)
      return this.isGivable(decision.given, false) ? this.changed(from, decision.given).to : undefined
    if ('choice' in decision) {
      if (from.mode !== 'choice') return undefined
      const choice = beat.choices.find(({ address }) => address === decision.choice)
      return choice === undefined || !this.isOpen(from, choice) ? undefined : this.taken(from, choice)
    }
    const word = decision.word.trim()
    return from.mode === 'word' && decision.at === beat.address && word !== '' ? this.said(from, beat, word) : undefined
  }

  // ----- verdicts, section 4

  private unreached(): void {
    const missing = (event: string, address: string, level?: 'error'): boolean => {
      if (this.first.has(`${event} ${address}`)) return false
      this.found.push(finding('unreached', [address], '', undefined, level))
      return true
    }
    for (const beat of this.story.inOrder) {
      if (missing('beats', beat.address)) continue
      for (const rule of beat.redirects) missing('redirect', rule.address)
      for (const rule of beat.arrive) missing('arrive', rule.address)
      for (const line of beat.lines) {
        const inTurn = (group: LinkedTurns | undefined) => {
          for (const turn of group?.turns ?? [])
            if (!missing('turn', turn.address)) for (const inner of turn.lines) missing('line', inner.address)
        }
        if (line.kind === 'line') missing('line', line.address)
        else if (line.kind === 'turns') inTurn(line)
        else
          for (const variant of line.variants) {
            if (missing('variant', variant.address)) continue
            for (const inner of variant.lines) missing('line', inner.address)
            inTurn(variant.turns)
          }
      }
      for (const choice of beat.choices) {
        if (!missing('choices', choice.address) && choice.to.kind === 'rules')
          for (const rule of choice.to.rules) missing('rule', rule.address)
      }
      for (const rule of beat.onward) missing('onward', rule.address)
    }
    for (const ending of this.story.endings) missing('endings', ending.id, 'error')
    for (const quest of this.story.quests)
      for (const stage of quest.stages.slice(1)) missing('stages', `${quest.id}.${stage}`, 'error')
  }

  /** The nodes from which one with a property can be reached, itself included: added until none is left to add. */
  canReach(has: (state: State) => boolean): ReadonlySet<string> {
    const names = [...this.nodes.keys()].reverse()
    const can = new Set(names.filter((name) => has(this.nodes.get(name)!.state)))
    for (let before = -1; before < can.size;) {
      before = can.size
      for (const name of names)
        if (!can.has(name) && this.nodes.get(name)!.next.some(({ to }) => can.has(to))) can.add(name)
    }
    return can
  }

  private graphFindings(starts: ReadonlySet<string>): void {
    const shortest = new Map<string, [Finding, number]>()
    const note = (found: Finding, depth: number) => {
      const name = findingItem(found)
      const before = shortest.get(name)
      if (before === undefined || depth < before[1]) shortest.set(name, [found, depth])
    }
    const ends = this.canReach(({ mode }) => mode === 'ended')
    const canEnd = (name: string) => ends.has(name)
    const settled = this.story.quests.map(
      ({ id, stages, outcomes }) =>
        (state: State) =>
          outcomes[stages.indexOf(state.stages[id]!)] !== undefined,
    )
    const settles = settled.map((is) => this.canReach(is))
    if (starts.size === 0 || [...starts].some((start) => !canEnd(start)))
      this.found.push({ ...finding('no-way-out', ['start'], ''), route: [] })
    for (const [name, { state, depth, next }] of this.nodes) {
      for (const { label, to, free } of next) {
        if (label !== undefined && to !== 'endless' && canEnd(name) && !canEnd(to))
          note(finding('no-way-out', [label], ''), free ? depth : depth + 1)
      }
      for (const quest of this.story.quests) {
        if (quest.outcomes.every((outcome) => outcome === undefined)) continue
        const stage = state.stages[quest.id]!
        if (stage === 'unstarted' || settled[quest.index]!(state)) continue
        if (state.mode === 'ended') note(finding('left-open', [quest.id, stage], ''), depth)
        else if (!settles[quest.index]!.has(name)) note(finding('stranded-stage', [quest.id, stage], ''), depth)
      }
    }
    for (const [found, depth] of shortest.values())
      this.found.push({ ...found, route: Array.from({ length: depth }, () => ({ choice: '' })) })
  }

  private promises(starts: ReadonlySet<string>): string[] {
    const lines: string[] = []
    for (const { id, promise, holds, while: asked, first, then } of this.story.promises) {
      const test = (expr: typeof holds, state: State) => evaluate(expr!, this.env(state)) === true
      const nodes = [...this.nodes]
      let broken: number | 'no route' | undefined
      const least = (found: [string, Node][]) =>
        found.length === 0 ? undefined : Math.min(...found.map(([, { depth }]) => depth))
      if (promise.kind === 'never') broken = least(nodes.filter(([, { state }]) => test(holds, state)))
      if (promise.kind === 'always') broken = least(nodes.filter(([, { state }]) => !test(holds, state)))
      if (promise.kind === 'possible')
        broken = nodes.some(([, { state }]) => test(holds, state)) ? undefined : 'no route'
      if (promise.kind === 'stillPossible') {
        const can = this.canReach((state) => test(holds, state))
        broken = least(
          nodes.filter(([name, { state }]) => (asked === undefined || test(asked, state)) && !can.has(name)),
        )
      }
      if (promise.kind === 'inOrder') {
        const seen = new Set<string>()
        let level = [...starts]
        for (let far = 0; level.length > 0; far += 1) {
          const later: string[] = []
          for (const name of level) {
            if (seen.has(name)) continue
            seen.add(name)
            const { state, next } = this.nodes.get(name)!
            if (test(first, state)) continue
            if (test(then, state)) broken ??= far
            for (const { to, free } of next) if (to !== 'endless') (free ? level : later).push(to)
          }
          level = later
        }
      }
      lines.push(`promise ${id} ${broken === undefined ? 'kept' : 'broken'}`)
      if (broken !== undefined) lines.push(`promise-broken error ${id} in ${broken}`)
    }
    return lines
  }
}
