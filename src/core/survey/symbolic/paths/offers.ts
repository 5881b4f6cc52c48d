import type { Expr } from '../../../expression/ast'
import type { LinkedStory } from '../../../story/linked'
import type { Search } from '../../explicit/search'
import type { Engine } from '../../interpreter/engine'
import type { ConditionReader } from './condition-reader'
import {
  GateReader,
  gatesAmong,
  isBack,
  isFixed,
  isOpen,
  leadsSomewhere,
  nameOf,
  type BareGates,
  type Gate,
  type Gates,
  type Offered,
  type Told,
} from './offer-gates'
import type { Ranges } from './ranges'
import type { Standing } from './standing'
import type { WatchedValues } from './watched-values'

/** Choices of a beat that are asked about together, at least. */
const CHOICES_TOGETHER = 2

/** Ways in which slots that most gates ask for were told that are kept. */
const TOLD_MAX = 256

/** Tells as one condition whether some choice of a beat is open, so that not every choice parts the ways. */
export class Offers {
  private readonly reader: GateReader
  /** By what is left of a gate: that, and that its choice was not taken yet. */
  private readonly rests = new Map<string, Expr>()
  /** By choice: that it was not taken yet. */
  private readonly untaken = new Map<string, Expr>()
  /** By the choices that it asks about: whether one of them is open. */
  private readonly known = new Map<string, Expr>()
  /** By beat and range of choices, for the standing that was asked about last. */
  private gates: { readonly of: Standing | undefined; readonly known: Map<string, BareGates> } = {
    of: undefined,
    known: new Map(),
  }

  constructor(
    private readonly story: LinkedStory,
    private readonly search: Search,
    private readonly engine: Engine,
    private readonly values: WatchedValues,
    private readonly ranges: Ranges,
    private readonly read: ConditionReader,
  ) {
    this.reader = new GateReader(story, search, engine, read)
  }

  /**
   * Whether some choice of a beat, of those from one place to before another, is open where the story comes to it from a standing in
   * which some slots were told: as far as it is known, or as one condition on what is not, so that not every choice parts the way.
   * Undefined where it takes more than that, or asks for what the game gives, which no state holds.
   */
  now(
    beat: number,
    standing: Standing,
    guarded: readonly number[],
    from: number,
    end: number,
  ): Offered | boolean | undefined {
    if (end - from < CHOICES_TOGETHER) return undefined
    const { bare, watched } = this.values
    const nothingTold = this.gatesOf(beat, standing, from, end)
    const told = new Set([...guarded, ...this.values.writes])
    const { place } = this.search.slots
    const isTold = (slot: number) => told.has(slot) || isFixed(standing, slot)
    if (!isTold(place) && nothingTold.asking.has(place)) {
      void watched[place]
      told.add(place)
    }
    const common = nothingTold.common.filter((slot) => told.has(slot))
    const gates = common.length === 0 ? nothingTold : this.gatesWhere(common, nothingTold, beat, standing, from)
    const { all, untold, known, asking } = gates
    // what else was told changes few of them
    const now: Told = { isTold, isSet: (slot) => this.values.isWritten(slot), valueOf: (slot) => bare[slot]! }
    const changed = new Map<number, Gate>()
    for (const slot of told)
      for (const at of asking.get(slot) ?? [])
        if (!changed.has(at)) changed.set(at, this.reader.gateOf(beat, from + at, standing, now))
    for (const { left } of changed.values()) if (left === undefined) return undefined
    for (const at of untold) if (!changed.has(at)) return undefined
    // in the order of play, as asking a condition that is known is noted
    const { events } = this.engine
    const settled = changed.size === 0 ? known : [...new Set([...known, ...changed.keys()])].sort((a, b) => a - b)
    const open = new Set<number>()
    for (const at of settled) {
      const other = changed.get(at)
      const { choice, isKnown, left } = other ?? all[at]!
      if (typeof left === 'object') continue
      const outcome = !isKnown
        ? left === true
        : other !== undefined
          ? isOpen(choice)
          : (gates.outcomes[at] ??= isOpen(choice))
      if (choice.when !== undefined) events.ask(choice.event, outcome ? 2 : 1)
      if (!outcome) continue
      if (!choice.once || (isTold(choice.taken) && bare[choice.taken] === 0)) return true
      if (!isTold(choice.taken)) open.add(at)
    }
    const isOver = ({ choice: { once, taken } }: Gate) =>
      !once ? false : isTold(taken) ? bare[taken] !== 0 : undefined
    const tell = () =>
      this.together(
        all.map((gate, at) => changed.get(at) ?? gate),
        open,
        isOver,
      )
    // where most are changed it is seldom the same again
    if (2 * changed.size > all.length) return tell()
    const key = [...changed]
      .sort(([one], [other]) => one - other)
      .map(([at, gate]) => `${at} ${nameOf(gate, open.has(at))} ${isOver(gate)}`)
      .join('|')
    const made = gates.together.get(key) ?? tell()
    gates.together.set(key, made)
    return made
  }

  /** Whether one of some gates is open as one condition; `open` are those that are known to be, but for their choices having been taken. */
  private together(
    all: readonly Gate[],
    open: ReadonlySet<number>,
    isOver: (gate: Gate) => boolean | undefined,
  ): Offered | false {
    const parts: Expr[] = []
    const gates: number[] = []
    const unsure: [event: number, gate: Expr][] = []
    const names: string[] = []
    for (const [at, gate] of all.entries()) {
      const { choice, address, left } = gate
      if (typeof left === 'object') {
        const over = isOver(gate)
        if (over === false) gates.push(choice.event)
        else unsure.push([choice.event, left.expr])
        if (over === true) continue
        parts.push(over === false ? left.expr : this.untakenWith(left.name, left.expr, address))
        names.push(over === false ? left.name : `${left.name}!`)
      } else if (open.has(at)) {
        parts.push(this.untakenOf(address))
        names.push(`!${address}`)
      }
    }
    if (parts.length === 0) return unsure.length === 0 ? false : { some: undefined, gates, unsure }
    const key = names.join(' ')
    const some = this.known.get(key) ?? parts.reduce((left, right) => either(left, right))
    this.known.set(key, some)
    return { some, gates, unsure }
  }

  /** The gates of choices where nothing was told. */
  private gatesOf(beat: number, standing: Standing, from: number, end: number): BareGates {
    if (this.gates.of !== standing) this.gates = { of: standing, known: new Map() }
    const key = `${beat} ${from} ${end}`
    const found = this.gates.known.get(key)
    if (found !== undefined) return found
    const nothing: Told = {
      isTold: (slot) => isFixed(standing, slot),
      isSet: () => false,
      valueOf: (slot) => standing.base[slot]!,
    }
    const all = Array.from({ length: end - from }, (_, at) => this.reader.gateOf(beat, from + at, standing, nothing))
    const asking = new Map<number, number[]>()
    for (const [at, { choice, slots }] of all.entries()) {
      const place = isBack(choice) ? [this.search.slots.place] : []
      for (const slot of new Set([...slots, ...(choice.once ? [choice.taken] : []), ...place])) {
        const those = asking.get(slot) ?? []
        asking.set(slot, those)
        those.push(at)
      }
    }
    const common = [...asking].flatMap(([slot, those]) => (2 * those.length > all.length ? [slot] : []))
    const made = {
      ...gatesAmong(all, asking),
      common,
      told: new Map<string, Gates>(),
      asks: new Map<number, readonly Expr[] | undefined>(),
    }
    this.gates.known.set(key, made)
    return made
  }

  /** The gates of choices where just some slots for which most of them ask were told. */
  private gatesWhere(
    common: readonly number[],
    bareGates: BareGates,
    beat: number,
    standing: Standing,
    from: number,
  ): Gates {
    const { all, asking, told } = bareGates
    const { bare } = this.values
    const isSet = (slot: number) => common.includes(slot) && this.values.isWritten(slot)
    const holds = (slot: number) => this.rangeFor(slot, bareGates, beat, from) ?? bare[slot]
    const key = common.map((slot) => `${slot} ${holds(slot)} ${isSet(slot)}`).join(' ')
    const found = told.get(key)
    if (found !== undefined) return found
    const now: Told = {
      isTold: (slot) => common.includes(slot) || isFixed(standing, slot),
      isSet,
      valueOf: (slot) => (common.includes(slot) ? bare : standing.base)[slot]!,
    }
    const changed = new Set(common.flatMap((slot) => asking.get(slot)!))
    const others = new Map(asking)
    for (const slot of common) others.delete(slot)
    const made = gatesAmong(
      all.map((gate, at) => (changed.has(at) ? this.reader.gateOf(beat, from + at, standing, now) : gate)),
      others,
    )
    if (told.size >= TOLD_MAX) told.clear()
    told.set(key, made)
    return made
  }

  /** Leaves a slot that may have any of a range of values those for which gates turn out alike, and says how; undefined where it has one then. */
  private rangeFor(slot: number, { asking, asks }: BareGates, beat: number, from: number): string | undefined {
    if (!this.ranges.has(slot)) return undefined
    if (!asks.has(slot)) {
      const parts = asking.get(slot)!.flatMap((at) => this.story.beats[beat]!.choices[from + at]!.when?.expr ?? [])
      asks.set(slot, this.reader.askingAlone(slot, parts))
    }
    const parts = asks.get(slot)
    if (parts !== undefined) return parts.map((part) => (this.read.testOf(part)() ? 'y' : 'n')).join('')
    void this.values.watched[slot]
    return undefined
  }

  /**
   * When some choice of a location is open, as one condition on states that rest there; undefined where it takes more than
   * that, or asks for what states there do not tell.
   */
  at(location: number): Expr | undefined {
    const { beats } = this.story
    if (location >= beats.length || this.engine.programs.of(location).asks) return undefined
    const { choices } = this.engine.programs.of(location)
    const inputs = new Set(this.search.givens.plan.free)
    let some: Expr | undefined
    for (const [at, { when, address }] of beats[location]!.choices.entries()) {
      const choice = choices[at]!
      if (!leadsSomewhere(choice, beats[location]!.place) || (when !== undefined && when.expr === undefined))
        return undefined
      const gate = when?.expr
      if (gate !== undefined && this.read.slotsIn(gate).some((slot) => slot !== -1 && inputs.has(slot)))
        return undefined
      if (gate === undefined && !choice.once) return undefined
      const parts = [...(gate === undefined ? [] : [gate]), ...(choice.once ? [this.untakenOf(address)] : [])]
      const open = parts.reduce(both)
      some = some === undefined ? open : either(some, open)
    }
    return some
  }

  /** That a gate is open whose choice was not taken yet. */
  private untakenWith(name: string, gate: Expr, choice: string): Expr {
    const own = `${name}!`
    const known = this.rests.get(own) ?? both(gate, this.untakenOf(choice))
    this.rests.set(own, known)
    return known
  }

  private untakenOf(choice: string): Expr {
    const known = this.untaken.get(choice) ?? {
      ...NOWHERE,
      kind: 'not' as const,
      operand: { ...NOWHERE, kind: 'taken' as const, choice },
    }
    this.untaken.set(choice, known)
    return known
  }
}

/** Where what nobody wrote stands. */
const NOWHERE = { start: 0, end: 0 }

function both(left: Expr, right: Expr): Expr {
  return { ...NOWHERE, kind: 'and', left, right }
}

function either(left: Expr, right: Expr): Expr {
  return { ...NOWHERE, kind: 'or', left, right }
}
