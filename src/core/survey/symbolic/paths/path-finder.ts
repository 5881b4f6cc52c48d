import type { Expr } from '../../../expression/ast'
import type { LinkedStory } from '../../../story/linked'
import type { Followed } from '../../interpreter/condition-compiler'
import { Engine } from '../../interpreter/engine'
import type { Search } from '../../explicit/search'
import { ConditionReader } from './condition-reader'
import type { Assignment, Decided, Demand } from './demand'
import type { LocationSlots } from './location-slots'
import { Offers } from './offers'
import { RangeParts } from './range-parts'
import { Ranges, type Range } from './ranges'
import { standing, type Standing } from './standing'
import { WatchedCompiler } from './watched-compiler'
import { WatchedValues } from './watched-values'

/** One way through something that is played: what must hold for it, what the game gives, and what it sets. */
export interface Path<T> extends Demand {
  readonly given: readonly Assignment[]
  readonly writes: readonly Assignment[]
  readonly outcome: T
  /** Gates, by their events, that are asked on the way and false if more holds. */
  readonly closed: readonly (readonly [event: number, conditions: readonly Decided[]])[]
  /** Those that are asked and false: most of a place, so ways that find them so share the list. */
  readonly shut: readonly number[]
}

/** Ways through something that were found so far, and demands of those that have not been played. */
export interface Tried<T> {
  readonly found: Path<T>[]
  readonly waiting: Demand[]
}

/** Ways through one decision beyond which it is given up. */
const PATHS_MAX = 20_000
/** Ways between two looks whether time is left. */
const PATHS_LOOK = 64
/** What may be in fewer ways, as a condition reads it or something is added to it, is told apart by them, as others may ask for it too. */
const MANY = 16

/**
 * Plays something in the interpreter on every path: first with the smallest values of all that is read and with
 * conditions on several slots false, then with the other answer to what was asked last, and so on, so that each path is
 * played once, and what it does not ask for may be anything.
 */
export class PathFinder {
  readonly engine: Engine
  protected readonly values: WatchedValues
  private readonly compiler: WatchedCompiler
  protected readonly ranges: Ranges
  private readonly parts: RangeParts
  private lastStanding: Standing | undefined
  /** What a slot is changed to in what is being played. */
  protected pick: (slot: number) => number = () => 0
  /** Whether some choice is open, as one condition. */
  readonly offers: Offers
  private readonly read: ConditionReader
  /** A condition, by the number of its part, of which it is heard what is known when it is asked; -1 for none. */
  protected heard = -1

  constructor(
    protected readonly story: LinkedStory,
    protected readonly search: Search,
    private readonly locationSlots: LocationSlots,
    followed: Followed,
    /** Says that there is no time or memory left: then there are too many ways. */
    private readonly isOver: () => boolean = () => false,
    /** In how many ways something has to be at least to be looked at in more than one at once. */
    private readonly many = MANY,
  ) {
    const { slots } = search
    this.values = new WatchedValues(slots.all.length)
    this.ranges = new Ranges(this.values, many)
    this.engine = new Engine(story, slots, followed, search.givens.plan, {
      values: this.values.watched,
      bare: this.values.bare,
      Compiler: WatchedCompiler,
    })
    this.compiler = this.engine.compiler as WatchedCompiler
    this.compiler.ranges = this.ranges
    this.read = new ConditionReader(story, search, this.compiler)
    this.parts = new RangeParts(slots, this.read, this.values.bare)
    this.offers = new Offers(story, search, this.engine, this.values, this.ranges, this.read)
  }

  /**
   * The values for which a condition holds in states resting at a location, where slots that they do not hold have some values;
   * undefined where there are too many.
   */
  valuesFor(location: number, expr: Expr, given: readonly Assignment[] = []): (readonly Assignment[])[] | undefined {
    return this.paths(this.withGiven(this.standingAt(location), given), this.compiler.bareTest(expr))?.flatMap(
      ({ guards, outcome }) => (outcome ? [guards] : []),
    )
  }

  /** In how many ways what a condition reads may be, where a state rests. */
  waysOf(location: number, expr: Expr): number {
    const { held } = this.standingAt(location)
    return this.waysIn(this.read.slotsIn(expr).filter((slot) => held.has(slot)))
  }

  private waysIn(slots: readonly number[]): number {
    return slots.reduce((all, slot) => {
      const { min, max } = this.search.slots.all[slot]!
      return all * (max - min + 1)
    }, 1)
  }

  /** Every way through something that is played where a state rests; undefined where there are too many. */
  protected paths<T>(from: Standing, play: () => T): Path<T>[] | undefined {
    const tried = nothingTried<T>()
    return this.tryPaths(from, play, tried, Infinity) ? tried.found : undefined
  }

  /** Finds up to `most` ways more; false where there are too many. */
  protected tryPaths<T>(from: Standing, play: () => T, { found, waiting }: Tried<T>, most: number): boolean {
    const { base, inputs } = from
    const { slots } = this.search
    const { bare } = this.values
    for (let left = most; left > 0 && waiting.length > 0; left -= 1) {
      const demand = waiting.pop()!
      if (found.length + waiting.length > PATHS_MAX) return false
      if (found.length % PATHS_LOOK === 0 && this.isOver()) return false
      bare.set(base)
      this.engine.machine.wasPutBack()
      const guards = [...demand.guards]
      // slots among them that a state holds
      const guarded = guards.flatMap(([slot]) => (slot < 0 || inputs.has(slot) ? [] : [slot]))
      const conditions = [...demand.conditions]
      const asides: (readonly [event: number, gate: Expr])[] = []
      const shut: (readonly number[])[] = []
      for (const [slot, value] of guards) if (slot >= 0) bare[slot] = value
      const free = from.free.slice()
      for (const [slot] of guards) if (slot >= 0) free[slot] = 0
      const later = (instead: Partial<Demand>) => {
        waiting.push({ guards: [...guards], conditions: [...conditions], ranges: this.ranges.all(), ...instead })
      }
      this.ranges.play(demand.ranges, {
        boundsOf: (slot) => (free[slot] === 1 && !inputs.has(slot) ? slots.all[slot] : undefined),
        later: (ranges) => later({ ranges }),
        settled: (slot, value) => {
          free[slot] = 0
          guards.push([slot, value])
          guarded.push(slot)
        },
      })
      this.values.onRead = (slot) => {
        if (free[slot] === 0) return
        free[slot] = 0
        const [first, ...others] = inputs.has(slot) ? this.optionsOf(slot) : valuesOf(slots.all[slot]!)
        for (const value of others) later({ guards: [...guards, [slot, value]] })
        guards.push([slot, first!])
        if (!inputs.has(slot)) guarded.push(slot)
      }
      // what a slot is changed to stands among the guards under a number of its own
      this.pick = (slot) => {
        const known = guards.find(([own]) => own === changeOf(slot))
        if (known !== undefined) return known[1]
        const [first, ...others] = this.optionsOf(slot)
        for (const value of others) later({ guards: [...guards, [changeOf(slot), value]] })
        guards.push([changeOf(slot), first!])
        return first!
      }
      this.compiler.decide = (expr) => {
        const asked = this.read.slotsIn(expr)
        if (asked.some((slot) => this.values.isWritten(slot) || inputs.has(slot))) return undefined
        const known = conditions.find(([other]) => other === expr)
        if (known !== undefined) return known[1]
        if (!this.isBetterDecided(asked.filter((slot) => free[slot] === 1))) return undefined
        later({ conditions: [...conditions, [expr, true]] })
        conditions.push([expr, false])
        return false
      }
      const isSomeOpen = (beat: number, first: number, end: number): boolean | undefined => {
        const found = this.offers.now(beat, from, guarded, first, end)
        if (typeof found !== 'object') return found
        const { some, unsure } = found
        if (some !== undefined) {
          const known = conditions.find(([other]) => other === some)
          if (known === undefined) {
            later({ conditions: [...conditions, [some, true, true]] })
            conditions.push([some, false])
          }
          if (known?.[1] === true) return true
        }
        asides.push(...unsure)
        shut.push(found.gates)
        return false
      }
      this.engine.machine.offers = (beat) => this.isOffered(beat, isSomeOpen)
      let outcome: T
      let ranges: readonly Range[]
      let writes: Assignment[]
      try {
        outcome = this.values.watch(play)
        writes = this.values.writes
          .filter((slot) => !this.ranges.has(slot))
          .map((slot): Assignment => [slot, bare[slot]!])
      } finally {
        ranges = this.ranges.end()
        this.engine.machine.offers = undefined
        this.compiler.decide = undefined
        this.values.onRead = () => undefined
      }
      const isGiven = ([slot]: Assignment) => slot < 0 || inputs.has(slot)
      const own = guards.filter((one) => !isGiven(one))
      const left = this.leftOpen(conditions, own, base)
      if (left === undefined) continue
      const given = guards.filter(isGiven).map(([slot, value]): Assignment => [slot < 0 ? changeOf(slot) : slot, value])
      const closed = asides.flatMap(([event, gate]) => {
        const more = this.leftOpen([...conditions, [gate, false]], own, base)
        return more === undefined ? [] : [[event, more] as const]
      })
      const allShut = shut.length === 1 ? shut[0]! : shut.flat()
      for (const part of this.parts.of(ranges, left))
        found.push({ guards: own, given, ...part, writes, outcome, closed, shut: allShut })
    }
    return true
  }

  /** Whether some choice of a beat is open, in the order of play; `isSomeOpen` says so of some of them as one condition, where it can. */
  private isOffered(
    beat: number,
    isSomeOpen: (beat: number, from: number, end: number) => boolean | undefined,
  ): boolean | undefined {
    const { machine, programs } = this.engine
    const { choices } = programs.of(beat)
    const heard = this.heard === -1 ? -1 : choices.findIndex(({ event }) => event === this.heard)
    if (heard === -1) return isSomeOpen(beat, 0, choices.length)
    const isOpen = (from: number, end: number) =>
      isSomeOpen(beat, from, end) ?? choices.slice(from, end).some((choice) => machine.isOpen(choice))
    return isOpen(0, heard) || machine.isOpen(choices[heard]!) || isOpen(heard + 1, choices.length)
  }

  /** Of conditions those that guards do not settle; undefined where guards say otherwise than one of them. */
  private leftOpen(
    conditions: readonly Decided[],
    guards: readonly Assignment[],
    base: Int32Array,
  ): readonly Decided[] | undefined {
    const known = new Set(guards.map(([slot]) => slot))
    const isSettled = ([expr]: Decided) => this.read.slotsIn(expr).every((slot) => known.has(slot))
    const settled = conditions.flatMap((one) => this.read.partsOf(one)).filter(isSettled)
    if (settled.length === 0) return conditions
    const { bare } = this.values
    bare.set(base)
    for (const [slot, value] of guards) bare[slot] = value
    const isWrong = ([expr, outcome]: Decided) => this.read.testOf(expr)() !== outcome
    return settled.some(isWrong) ? undefined : conditions.filter((one) => !isSettled(one))
  }

  /** What the working vector is at a location before anything is tried, and the slots that states there hold. At a gateway nothing is given: what comes has what it had. */
  protected standingAt(location: number): Standing {
    if (this.lastStanding?.location === location) return this.lastStanding
    const { slots } = this.search
    const base = Int32Array.from(slots.all, ({ index }) => this.locationSlots.knownAt(location, index))
    const held = new Set(this.locationSlots.heldAt(location))
    for (const slot of held) base[slot] = slots.all[slot]!.min
    const inputs = new Set(this.locationSlots.isGateway(location) ? [] : this.search.givens.plan.free)
    return (this.lastStanding = standing(location, base, held, inputs))
  }

  private withGiven(own: Standing, given: readonly Assignment[]): Standing {
    if (given.length === 0) return own
    const base = own.base.slice()
    const inputs = new Set(own.inputs)
    for (const [slot, value] of given) {
      base[slot] = value
      inputs.delete(slot)
    }
    return standing(own.location, base, own.held, inputs)
  }

  /** What the game may give for a slot. */
  optionsOf(slot: number): readonly number[] {
    const one = this.search.slots.all[slot]!
    return (one.kind === 'entry' ? one.given?.options : undefined) ?? []
  }

  /** Whether it is better to take a condition as true or false than to try the values that it asks for and that are not known: where those may be in many ways. */
  private isBetterDecided(open: readonly number[]): boolean {
    return open.length > 0 && this.waysIn(open) >= this.many
  }
}

export function nothingTried<T>(): Tried<T> {
  return { found: [], waiting: [{ guards: [], conditions: [], ranges: [] }] }
}

/** The number under which a change of a slot stands among guards, and back. */
function changeOf(slot: number): number {
  return -1 - slot
}

function valuesOf({ min, max }: { readonly min: number; readonly max: number }): number[] {
  return Array.from({ length: max - min + 1 }, (_, at) => min + at)
}
