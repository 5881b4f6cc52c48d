import { inOneGo, type Slices } from '../../base/slices'
import { operandsOf, type Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import type { Actions } from './paths/actions'
import type { CommandMaker, ConditionFacts, Filter, SlotValues } from './commands'
import type { Diagrams } from './diagrams/diagrams'
import { EMPTY, TooMuch, unlessTooMuch } from './diagrams/node-table'
import type { Assignment, Decided } from './paths/demand'
import { runsOf } from './paths/ranges'
import type { Relation } from './diagrams/relation'
import type { Relations } from './relations'

/** Sets that may be made for all states from which a command goes. */
const DOMAIN_NODES = 50_000

/** A part of a condition asks for little where what it reads may be in so many ways at most. */
const FEW_WAYS = 64

/** What leaves the states in which a condition holds. */
interface Keeping {
  /** By parts that ask for little, all at once. */
  readonly relation: Relation
  /** Others, of which one has to hold where none of those does; or, where all parts have to, each of these as well. */
  readonly others: readonly Expr[]
}

/** What is known of conditions where states rest and something is given. */
interface Known {
  readonly keepings: Map<Expr, Keeping>
  /** For what values of slots each holds; many ask for the same parts. */
  readonly values: Map<Expr, readonly (readonly Assignment[])[]>
}

/** What of sets of states meets a condition. */
export class SetConditions implements ConditionFacts {
  /** By location, and by what is given there. */
  private readonly holding: (Map<string, Known> | undefined)[] = []
  /** The opposites of conditions. */
  private readonly opposites = new Map<Expr, Expr>()
  /** By location: all states in which some choice is open; null where that is not told. */
  private readonly offered = new Map<number, number | null>()

  constructor(
    private readonly story: LinkedStory,
    private readonly actions: Actions,
    private readonly relations: Relations,
    private readonly diagrams: Diagrams,
    private readonly maker: CommandMaker,
  ) {}

  /** Of some states at a location, those in which a condition holds, where slots that they do not hold have some values. */
  where(location: number, set: number, expr: Expr, given: readonly Assignment[] = []): number {
    return inOneGo(this.whereInTurns(location, set, expr, given))
  }

  /** The same; others get their turn after each part of it. */
  private *whereInTurns(location: number, set: number, expr: Expr, given: readonly Assignment[]): Slices<number> {
    if (set === EMPTY) return EMPTY
    const { diagrams } = this
    switch (expr.kind) {
      case 'and': {
        const { relation, others } = yield* this.keepingAll(location, expr, given)
        let those = diagrams.image(relation, set)
        for (const other of others) {
          yield
          those = yield* this.whereInTurns(location, those, other, given)
        }
        return those
      }
      case 'not':
        return diagrams.minus(set, yield* this.whereInTurns(location, set, expr.operand, given))
      case 'arithmetic':
      case 'at':
      case 'bool':
      case 'compare':
      case 'ended':
      case 'entry':
      case 'in':
      case 'int':
      case 'negate':
      case 'or':
      case 'order':
      case 'quest':
      case 'string':
      case 'taken':
      case 'visits': {
        const { relation, others } = yield* this.keepingFor(location, expr, given)
        let all = diagrams.image(relation, set)
        for (const other of others) {
          yield
          const left = diagrams.minus(set, all)
          all = diagrams.union(all, yield* this.whereInTurns(location, left, other, given))
        }
        return all
      }
    }
  }

  /** Of parts that all have to hold, those that each ask for just one value are asked for at once. */
  private *keepingAll(location: number, expr: Expr, given: readonly Assignment[]): Slices<Keeping> {
    const { keepings } = this.holdingAt(location, given)
    const known = keepings.get(expr)
    if (known !== undefined) return known
    const guards = new Map<number, number>()
    const others: Expr[] = []
    let isPossible = true
    for (const part of operandsOf(expr, 'and')) {
      yield
      const values = this.actions.waysOf(location, part) <= FEW_WAYS ? this.valuesOf(location, part, given) : undefined
      if (values?.length !== 1) others.push(part)
      else
        for (const [slot, value] of values[0]!) {
          isPossible &&= (guards.get(slot) ?? value) === value
          guards.set(slot, value)
        }
    }
    const made = { relation: this.relations.keeping(location, isPossible ? [[...guards]] : []), others }
    keepings.set(expr, made)
    return made
  }

  private holdingAt(location: number, given: readonly Assignment[]): Known {
    const here = (this.holding[location] ??= new Map())
    const key = given.join(' ')
    const at = here.get(key) ?? { keepings: new Map(), values: new Map() }
    here.set(key, at)
    return at
  }

  private *keepingFor(location: number, expr: Expr, given: readonly Assignment[]): Slices<Keeping> {
    const { keepings } = this.holdingAt(location, given)
    const known = keepings.get(expr)
    if (known !== undefined) return known
    const parts = operandsOf(expr, 'or')
    const values: (readonly Assignment[])[] = []
    const others: Expr[] = []
    for (const part of parts) {
      yield
      if (parts.length === 1 || this.actions.waysOf(location, part) <= FEW_WAYS)
        values.push(...this.valuesOf(location, part, given))
      else others.push(part)
    }
    const made = { relation: this.relations.keeping(location, values), others }
    keepings.set(expr, made)
    return made
  }

  /** The values of slots for which a condition holds at a location. */
  private valuesOf(location: number, expr: Expr, given: readonly Assignment[]): readonly (readonly Assignment[])[] {
    const { values: at } = this.holdingAt(location, given)
    const known = at.get(expr)
    if (known !== undefined) return known
    const { resting } = this.actions.engine
    resting.beat = location % this.story.beats.length
    resting.ending = location < this.story.beats.length ? this.story.beats[location]!.ending : -1
    const values = this.actions.valuesFor(location, expr, given)
    if (values === undefined) throw new TooMuch()
    at.set(expr, values)
    return values
  }

  /** Those of some states in which conditions turn out as they are meant. */
  satisfying(filter: Filter, set: number): number {
    return this.known(filter, set) ?? inOneGo(this.filtered(filter, set))!
  }

  /** The same, where it can be told without asking; else undefined. */
  known(filter: Filter, set: number): number | undefined {
    if (set === EMPTY || filter.conditions.length === 0) return set
    const domain = this.everywhere(filter)
    return domain === undefined ? undefined : this.diagrams.both(set, domain)
  }

  /** States in which conditions turn out as they are meant: all of them, or where those are too large a set, those of some. */
  allowed(filter: Filter, among: () => number): number {
    return this.everywhere(filter) ?? inOneGo(this.filtered(filter, among()))!
  }

  /** All states in which conditions turn out as they are meant; undefined where that is too large a set. */
  everywhere(filter: Filter): number | undefined {
    if (filter.domain === undefined) filter.domain = inOneGo(this.domainOf(filter)) ?? null
    return filter.domain ?? undefined
  }

  /** The same, whether it is known or not; others get their turn in between. */
  private *domainOf(filter: Pick<Filter, 'location' | 'conditions'>): Slices<number | undefined> {
    const { diagrams } = this
    const most = diagrams.nodes + DOMAIN_NODES
    const all = diagrams.any(this.maker.sizesAt(filter.location))
    return yield* this.filtered(filter, all, () => diagrams.nodes > most)
  }

  /** All states of a location in which some choice is open; undefined where that is not to be told so. */
  offeredAt(location: number): number | undefined {
    return inOneGo(this.offeredInTurns(location))
  }

  /** The same; others get their turn in between. */
  *offeredInTurns(location: number): Slices<number | undefined> {
    let known = this.offered.get(location)
    if (known === undefined) {
      const some = this.actions.offers.at(location)
      // where a condition asks for too many values others are asked instead
      const all = some && (yield* unlessTooMuch(this.domainOf({ location, conditions: [[some, true]] })))
      known = all ?? null
      this.offered.set(location, known)
    }
    return known ?? undefined
  }

  /** The values of slots with which a condition turns out so; undefined where those of one hang together with those of another. */
  valuesFor(location: number, [expr, outcome]: Decided): SlotValues[] | undefined {
    const meant = outcome ? expr : this.oppositeOf(expr)
    if (this.actions.waysOf(location, meant) > FEW_WAYS) return undefined
    const ways = this.valuesOf(location, meant, [])
    if (ways.length === 1) return ways[0]!.map(([slot, value]) => ({ slot, runs: [{ from: value, to: value }] }))
    const slots = new Set(ways.flatMap((way) => way.map(([slot]) => slot)))
    if (slots.size !== 1 || ways.some(({ length }) => length !== 1)) return undefined
    return [{ slot: [...slots][0]!, runs: runsOf(ways.map(([one]) => one![1]).sort((a, b) => a - b)) }]
  }

  private oppositeOf(expr: Expr): Expr {
    if (expr.kind === 'not') return expr.operand
    const known = this.opposites.get(expr) ?? { start: expr.start, end: expr.end, kind: 'not' as const, operand: expr }
    this.opposites.set(expr, known)
    return known
  }

  /** Undefined where it is given up on the way. */
  private *filtered(
    { location, conditions }: Pick<Filter, 'location' | 'conditions'>,
    set: number,
    isTooMuch = () => false,
  ): Slices<number | undefined> {
    let some = set
    for (const [expr, outcome] of conditions) {
      const those = yield* this.whereInTurns(location, some, expr, [])
      some = outcome ? those : this.diagrams.minus(some, those)
      if (isTooMuch()) return undefined
    }
    return some
  }
}
