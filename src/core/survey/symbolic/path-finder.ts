import type { Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import type { Followed } from '../interpreter/condition-compiler'
import { Engine } from '../interpreter/engine'
import { TO_PLACE, type ChoiceProgram } from '../interpreter/programs'
import type { Search } from '../explicit/search'
import { variablesOf, variablesRead } from '../summaries/variables'
import { WatchedCompiler } from './watched-compiler'
import { WatchedValues } from './watched-values'

/** A slot with a value. */
export type Assignment = readonly [slot: number, value: number]

/**
 * A condition with how it turns out; and whether it was asked to know if the story rests where it has come to, since some choice is
 * open there: where it is so the path ends with it.
 */
export type Decided = readonly [expr: Expr, outcome: boolean, isOffer?: boolean]

/** What must hold in a state. */
export interface Demand {
  readonly guards: readonly Assignment[]
  readonly conditions: readonly Decided[]
}

/** One way through something that is played: what must hold for it, what the game gives, and what it sets. */
export interface Path<T> extends Demand {
  readonly given: readonly Assignment[]
  readonly writes: readonly Assignment[]
  readonly outcome: T
}

/** Ways through one decision beyond which it is given up. */
const PATHS_MAX = 20_000
/** Ways between two looks whether time is left. */
const PATHS_LOOK = 64
/** Choices of a beat that are asked about together, at least. */
const CHOICES_TOGETHER = 2
/** A condition on one slot of up to so many values is told apart by them, as others may ask for it too. */
const FEW = 16

export interface Standing {
  readonly location: number
  readonly base: Int32Array
  readonly held: ReadonlySet<number>
  /** Slots that the game gives, and that states do not hold. */
  readonly inputs: ReadonlySet<number>
}

/**
 * Plays something in the interpreter on every path: first with the smallest values of all that is read and with
 * conditions on several slots false, then with the other answer to what was asked last, and so on, so that each path is
 * played once, and what it does not ask for may be anything.
 */
export class PathFinder {
  readonly engine: Engine
  protected readonly values: WatchedValues
  private readonly compiler: WatchedCompiler
  private standing: Standing | undefined
  /** What a slot is changed to in what is being played. */
  protected pick: (slot: number) => number = () => 0
  /** By choice and by what is known of its gate: what is left of that. */
  private readonly rests = new Map<string, Expr>()
  /** By choice: that it was not taken yet. */
  private readonly untaken = new Map<string, Expr>()
  /** By the choices that it asks about: whether one of them is open. */
  private readonly offers = new Map<string, Expr>()
  /** Whether it is heard what is known when a point is come to: then everything is asked one after another. */
  protected isPointAsked = false
  /** By condition: what asks it of the values. */
  private readonly tests = new Map<Expr, () => boolean>()
  /** By condition: the slots that it reads. */
  private readonly slotsOf = new Map<Expr, readonly number[]>()

  constructor(
    protected readonly story: LinkedStory,
    protected readonly search: Search,
    followed: Followed,
    /** Says that there is no time or memory left: then there are too many ways. */
    private readonly isOver: () => boolean = () => false,
  ) {
    const { slots } = search
    this.values = new WatchedValues(slots.all.length)
    this.engine = new Engine(story, slots, followed, search.givens.plan, {
      values: this.values.watched,
      bare: this.values.bare,
      Compiler: WatchedCompiler,
    })
    this.compiler = this.engine.compiler as WatchedCompiler
  }

  /**
   * The values for which a condition holds in states resting at a location, where slots that they do not hold have some values;
   * undefined where there are too many.
   */
  valuesFor(location: number, expr: Expr, given: readonly Assignment[] = []): (readonly Assignment[])[] | undefined {
    const standing = this.withGiven(this.standingAt(location), given)
    return this.paths(standing, this.compiler.bareTest(expr))?.flatMap(({ guards, outcome }) =>
      outcome ? [guards] : [],
    )
  }

  /** Every way through something that is played where a state rests; undefined where there are too many. */
  protected paths<T>({ base, held, inputs }: Standing, play: () => T): Path<T>[] | undefined {
    const { slots } = this.search
    const { bare } = this.values
    const found: Path<T>[] = []
    const waiting: Demand[] = [{ guards: [], conditions: [] }]
    for (let demand = waiting.pop(); demand !== undefined; demand = waiting.pop()) {
      if (found.length + waiting.length > PATHS_MAX) return undefined
      if (found.length % PATHS_LOOK === 0 && this.isOver()) return undefined
      bare.set(base)
      this.engine.machine.wasPutBack()
      const guards = [...demand.guards]
      const conditions = [...demand.conditions]
      for (const [slot, value] of guards) if (slot >= 0) bare[slot] = value
      const free = new Set([...held, ...inputs])
      for (const [slot] of guards) free.delete(slot)
      this.values.onRead = (slot) => {
        if (!free.delete(slot)) return
        const [first, ...others] = inputs.has(slot) ? this.optionsOf(slot) : valuesOf(slots.all[slot]!)
        for (const value of others) waiting.push({ guards: [...guards, [slot, value]], conditions: [...conditions] })
        guards.push([slot, first!])
      }
      // what a slot is changed to stands among the guards under a number of its own
      this.pick = (slot) => {
        const known = guards.find(([own]) => own === changeOf(slot))
        if (known !== undefined) return known[1]
        const [first, ...others] = this.optionsOf(slot)
        for (const value of others)
          waiting.push({ guards: [...guards, [changeOf(slot), value]], conditions: [...conditions] })
        guards.push([changeOf(slot), first!])
        return first!
      }
      this.compiler.decide = (expr) => {
        const asked = this.slotsIn(expr)
        if (asked.some((slot) => this.values.isWritten(slot) || inputs.has(slot))) return undefined
        const known = conditions.find(([other]) => other === expr)
        if (known !== undefined) return known[1]
        if (!this.isBetterDecided(asked.filter((slot) => free.has(slot)))) return undefined
        waiting.push({ guards: [...guards], conditions: [...conditions, [expr, true]] })
        conditions.push([expr, false])
        return false
      }
      const knows = (slot: number) =>
        slot === -1 ||
        this.values.isWritten(slot) ||
        (!inputs.has(slot) && (!held.has(slot) || guards.some(([own]) => own === slot)))
      this.engine.machine.offers = (beat) => {
        if (this.isPointAsked) return undefined
        const found = this.offered(beat, knows, inputs)
        if (typeof found !== 'object') return found
        const known = conditions.find(([other]) => other === found.some)
        if (known === undefined) {
          waiting.push({ guards: [...guards], conditions: [...conditions, [found.some, true, true]] })
          conditions.push([found.some, false])
        }
        if (known?.[1] === true) return true
        const { asked } = this.engine.events
        for (const event of found.gates) asked[event]! |= 1
        return false
      }
      let outcome: T
      try {
        outcome = this.values.watch(play)
      } finally {
        this.engine.machine.offers = undefined
        this.compiler.decide = undefined
        this.values.onRead = () => undefined
      }
      const isGiven = ([slot]: Assignment) => slot < 0 || inputs.has(slot)
      const writes = this.values.writes.map((slot): Assignment => [slot, bare[slot]!])
      const own = guards.filter((one) => !isGiven(one))
      const left = this.leftOpen(conditions, own, base)
      if (left === undefined) continue
      const given = guards.filter(isGiven).map(([slot, value]): Assignment => [slot < 0 ? changeOf(slot) : slot, value])
      found.push({ guards: own, given, conditions: left, writes, outcome })
    }
    return found
  }

  /**
   * Whether some choice of a beat is open: as far as it is known, or as one condition on what is not, so that not every choice
   * parts the way; `gates`: of these, those that are asked and false if it is not so. Undefined where it takes more than that, or
   * asks for what the game gives (`inputs`), which no state holds.
   */
  private offered(
    beat: number,
    knows: (slot: number) => boolean,
    inputs: ReadonlySet<number>,
  ): { readonly some: Expr; readonly gates: readonly number[] } | boolean | undefined {
    const { choices } = this.engine.programs.of(beat)
    if (choices.length < CHOICES_TOGETHER) return undefined
    const place = this.search.slots.place
    const isAtPlace = this.values.isWritten(place) && this.values.bare[place] !== 0
    // looked at first, as asking a condition that is known is noted
    const open: { choice: ChoiceProgram; address: string; isKnown: boolean; gate: Part }[] = []
    for (const [at, { when, address }] of this.story.beats[beat]!.choices.entries()) {
      const choice = choices[at]!
      const slots = when?.expr === undefined ? [] : this.slotsIn(when.expr)
      const isKnown = slots.every(knows)
      const gate = isKnown ? true : this.leftOf(address, when!.expr!, inputs)
      if (!leadsSomewhere(choice, isAtPlace) || gate === undefined || (!isKnown && choice.once)) return undefined
      open.push({ choice, address, isKnown, gate })
    }
    const parts: Expr[] = []
    const gates: number[] = []
    const names: string[] = []
    const { asked } = this.engine.events
    for (const { choice, address, isKnown, gate } of open) {
      if (!isKnown && typeof gate === 'object') {
        parts.push(gate.expr)
        gates.push(choice.event)
        names.push(gate.name)
        continue
      }
      if (!isKnown) asked[choice.event]! |= gate === true ? 2 : 1
      if (isKnown ? choice.when !== undefined && !choice.when() : gate !== true) continue
      if (!choice.once) return true
      if (!knows(choice.taken)) {
        parts.push(this.untakenOf(address))
        names.push(`!${address}`)
      } else if (this.values.bare[choice.taken] === 0) return true
    }
    if (parts.length === 0) return false
    const key = names.join(' ')
    const some = this.offers.get(key) ?? parts.reduce((left, right) => either(left, right))
    this.offers.set(key, some)
    return { some, gates }
  }

  /**
   * What is left of a condition on states where some of what it asks for was set meanwhile; undefined where a part asks for both, or for
   * what the game gives.
   */
  private leftOf(name: string, expr: Expr, inputs: ReadonlySet<number>): Part {
    // which parts are known, and how they turn out
    let outcomes = ''
    const left = (part: Expr): Expr | boolean | undefined => {
      const slots = this.slotsIn(part).filter((slot) => slot !== -1)
      const isSet = slots.filter((slot) => this.values.isWritten(slot)).length
      if (isSet === slots.length) {
        const outcome = this.testOf(part)()
        outcomes += outcome ? '1' : '0'
        return outcome
      }
      if (part.kind === 'not') {
        const operand = left(part.operand)
        if (operand === undefined) return undefined
        return typeof operand === 'boolean' ? !operand : notOf(part, operand)
      }
      if (part.kind === 'and' || part.kind === 'or') {
        outcomes += '('
        const sides = [left(part.left), left(part.right)] as const
        outcomes += ')'
        const settles = part.kind === 'or'
        if (sides.includes(settles)) return settles
        if (sides.includes(undefined)) return undefined
        const [one, other] = sides
        if (typeof one === 'boolean') return other
        if (typeof other === 'boolean') return one
        return one === part.left && other === part.right ? part : { ...part, left: one!, right: other! }
      }
      outcomes += '?'
      return isSet > 0 || slots.some((slot) => inputs.has(slot)) ? undefined : part
    }
    const found = left(expr)
    if (found === undefined || typeof found === 'boolean') return found
    const own = found === expr ? name : `${name}:${outcomes}`
    const known = this.rests.get(own) ?? found
    this.rests.set(own, known)
    return { expr: known, name: own }
  }

  /**
   * When some choice of a location is open, as one condition on states that rest there; undefined where it takes more than
   * that, or asks for what states there do not tell.
   */
  offerAt(location: number): Expr | undefined {
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
      if (gate !== undefined && this.slotsIn(gate).some((slot) => slot !== -1 && inputs.has(slot))) return undefined
      if (gate === undefined && !choice.once) return undefined
      const parts = [...(gate === undefined ? [] : [gate]), ...(choice.once ? [this.untakenOf(address)] : [])]
      const open = parts.reduce((left, right): Expr => ({ ...NOWHERE, kind: 'and', left, right }))
      some = some === undefined ? open : either(some, open)
    }
    return some
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

  /** Of conditions those that guards do not settle; undefined where guards say otherwise than one of them. */
  private leftOpen(
    conditions: readonly Decided[],
    guards: readonly Assignment[],
    base: Int32Array,
  ): readonly Decided[] | undefined {
    const known = new Set(guards.map(([slot]) => slot))
    const isSettled = ([expr]: Decided) => this.slotsIn(expr).every((slot) => known.has(slot))
    if (!conditions.some(isSettled)) return conditions
    const { bare } = this.values
    bare.set(base)
    for (const [slot, value] of guards) bare[slot] = value
    const isWrong = ([expr, outcome]: Decided) => this.testOf(expr)() !== outcome
    return conditions.some((one) => isSettled(one) && isWrong(one))
      ? undefined
      : conditions.filter((one) => !isSettled(one))
  }

  private testOf(expr: Expr): () => boolean {
    const known = this.tests.get(expr) ?? this.compiler.bareTest(expr)
    this.tests.set(expr, known)
    return known
  }

  /** What the working vector is at a location before anything is tried, and the slots that states there hold. */
  protected standingAt(location: number): Standing {
    if (this.standing?.location === location) return this.standing
    const { slots, layout } = this.search
    const base = Int32Array.from(slots.all, ({ index }) => layout.knownAt(location, index))
    const held = new Set(layout.fieldsOf(location).map(({ slot }) => slot))
    for (const slot of held) base[slot] = slots.all[slot]!.min
    const inputs = new Set(this.search.givens.plan.free)
    return (this.standing = { location, base, held, inputs })
  }

  private withGiven(standing: Standing, given: readonly Assignment[]): Standing {
    if (given.length === 0) return standing
    const base = standing.base.slice()
    const inputs = new Set(standing.inputs)
    for (const [slot, value] of given) {
      base[slot] = value
      inputs.delete(slot)
    }
    return { ...standing, base, inputs }
  }

  /** What the game may give for a slot. */
  optionsOf(slot: number): readonly number[] {
    const one = this.search.slots.all[slot]!
    return (one.kind === 'entry' ? one.given?.options : undefined) ?? []
  }

  private slotsIn(expr: Expr): readonly number[] {
    const known = this.slotsOf.get(expr)
    if (known !== undefined) return known
    const { story, search } = this
    const slots = [
      ...new Set(variablesRead(story, variablesOf(story), expr).map((variable) => search.slots.ofVariable[variable]!)),
    ]
    this.slotsOf.set(expr, slots)
    return slots
  }

  /** Whether it is better to take a condition as true or false than to try the values that it asks for and that are not known: where there are several, or one that can have many. */
  private isBetterDecided(open: readonly number[]): boolean {
    if (open.length !== 1) return open.length > 1
    const { min, max } = this.search.slots.all[open[0]!]!
    return max - min >= FEW
  }
}

/** What is left to be asked of a gate: nothing, since it is open or closed; a condition with a name of its own; undefined where that is not told. */
type Part = { readonly expr: Expr; readonly name: string } | boolean | undefined

function notOf(part: Expr & { kind: 'not' }, operand: Expr): Expr {
  return operand === part.operand ? part : { ...part, operand }
}

/** Whether a choice leads somewhere wherever its gate is open: by its road, or by a rule that has no gate. */
function leadsSomewhere({ rules, to }: ChoiceProgram, isAtPlace: boolean): boolean {
  const isSome = (one: number) => one >= 0 || (one === TO_PLACE && isAtPlace)
  return rules === undefined ? isSome(to) : rules.some((rule) => rule.when === undefined && isSome(rule.to))
}

/** The number under which a change of a slot stands among guards, and back. */
function changeOf(slot: number): number {
  return -1 - slot
}

function valuesOf({ min, max }: { readonly min: number; readonly max: number }): number[] {
  return Array.from({ length: max - min + 1 }, (_, at) => min + at)
}

/** Where what nobody wrote stands. */
const NOWHERE = { start: 0, end: 0 }

function either(left: Expr, right: Expr): Expr {
  return { ...NOWHERE, kind: 'or', left, right }
}
