import type { Followed } from '../interpreter/condition-compiler'
import type { Witness } from '../interpreter/events'
import { inOneGo, type Slices } from '../../base/slices'
import type { RouteItem } from '../../story/types'
import type { Search } from '../explicit/search'
import type { Evidence } from '../findings/exploration'
import { ENDLESS, MOVE, type Point } from './paths/actions'
import type { Assignment } from './paths/demand'
import { isEnding, type GuardedCommand } from './commands'
import { type DiagramLimits, EMPTY, TooMuch, unlessTooMuch } from './diagrams/node-table'
import { Observations, type Observation } from './observations'
import { Layers, type Distances, type Near } from './distances'
import { BACK, ONWARD } from './diagrams/edge-images'
import { EdgeSearch } from './edge-search'
import { SetRoutes } from './set-routes'
import type { Level, Sets } from './state-sets'

/** What may be worked out for distances as edge-valued diagrams before they are layers instead. */
const EDGES_MOST = 4_000_000

/**
 * Breadth-first search over sets of states instead of states (symbolic model checking; Burch, Clarke, McMillan,
 * Dill, Hwang: Symbolic model checking: 10^20 states and beyond, 1992), for stories in which much that has little to do
 * with one another is open at once: their states are too many to be looked at one by one, but
 * sets of them are small. States are those of the other search, so what is left out there is left out here.
 * Depths, events and routes mean the same; a witness's state is the number of an observation.
 */
export class SymbolicSearch extends SetRoutes implements Evidence {
  /** How far states are from the start. */
  distances!: Distances
  /** What was given where the story began in such a way that something was seen: by observation, from −2 downwards. */
  private readonly begun: (readonly Assignment[])[] = []
  readonly reached: Sets = new Map()
  private readonly observations: Observations
  private edges: EdgeSearch | undefined

  constructor(search: Search, followed: Followed, limits?: DiagramLimits, order?: Int32Array) {
    super(search, followed, limits, order)
    this.observations = new Observations(this)
  }

  /** Goes through all states; stops to let others work. Gives whether it came to the end. */
  *run(): Generator<void, boolean> {
    if (!(yield* this.runUnseen())) return false
    yield* this.observations.make()
    return true
  }

  /** The same, without working out what is seen in which of them. */
  *runUnseen(): Slices<boolean> {
    if (this.story.start === -1 || this.isOpenRange) return false
    const starts = yield* this.actions.begin()
    if (starts === undefined) return false
    const next: Sets = new Map()
    for (const { location, values, given, onTheWay, asked, shut } of starts) {
      this.begun.push(given)
      this.observations.note(onTheWay, { asked, shut }, -1 - this.begun.length, -1)
      if (location === ENDLESS) continue
      if (!(yield* this.prepare(location))) return false
      const set = this.opening(location, values, given)
      this.beginnings.push({ location, set, given })
      this.add(next, location, set)
    }
    return yield* this.spread(next)
  }

  /** Goes through all states that are come to from some, and hears of nothing that is seen there. Gives whether it came to the end. */
  *runFrom(starts: Sets): Slices<boolean> {
    if (this.isOpenRange) return false
    for (const location of starts.keys()) if (!(yield* this.prepare(location))) return false
    return yield* this.spread(starts)
  }

  private get isOpenRange(): boolean {
    return this.search.slots.all.some((slot) => slot.kind === 'entry' && slot.wide !== undefined && !slot.wide.isFixed)
  }

  private *spread(starts: Sets): Slices<boolean> {
    const found = this.search.hasMoves ? undefined : yield* this.alongEdges(starts)
    if (found === false) return false
    const distances = found ?? (yield* this.layersFrom(starts, this.reached))
    if (distances === undefined) return false
    this.distances = distances
    return true
  }

  /** How far states are from the start, as edge-valued diagrams; undefined where those are too large, false where something there is too much for any. */
  private *alongEdges(starts: Sets): Slices<Distances | false | undefined> {
    const edges = (this.edges = new EdgeSearch(this, this.limits))
    edges.values.most = this.limits?.edges ?? EDGES_MOST
    const isPrepared = (location: number) => this.prepare(location)
    let isPossible = true
    const prepare = function* (location: number): Slices<void> {
      isPossible &&= yield* isPrepared(location)
      if (!isPossible) throw new TooMuch()
    }
    const found = yield* unlessTooMuch(edges.from(starts, ONWARD, undefined, prepare))
    edges.values.most = Infinity
    if (found === undefined) {
      this.edges = undefined
      return isPossible ? undefined : false
    }
    for (const [location, set] of found.reached) this.reached.set(location, set)
    return found.distances
  }

  /**
   * How far states are from some, in decisions, that lie on ways through states of `within` alone, if that is told. Adds them to `seen`;
   * undefined where something there is too much.
   */
  private *layersFrom(starts: Sets, seen: Sets, within?: Sets): Slices<Distances | undefined> {
    const levels: Level[] = []
    const fresh = (sets: Sets) => this.without(within === undefined ? sets : this.both(sets, within), seen)
    let next = fresh(starts)
    for (let distance = 0; next.size > 0; distance += 1) {
      const first = levels.length
      // what comes of changes alone is as near
      for (let level = next; level.size > 0;) {
        levels.push({ sets: level, distance })
        for (const [location, set] of level) this.add(seen, location, set)
        const moved: Sets = new Map()
        for (const location of level.keys()) if (!(yield* this.prepare(location))) return undefined
        yield* this.follow(level, true, moved)
        level = fresh(moved)
      }
      const decided: Sets = new Map()
      for (const { sets } of levels.slice(first)) yield* this.follow(sets, false, decided)
      next = fresh(decided)
    }
    return new Layers(this.diagrams, levels)
  }

  /** How far states are from the start on ways through states of `within` alone. */
  *distancesWithin(within: Sets): Slices<Distances> {
    const starts: Sets = new Map()
    for (const { location, set } of this.beginnings) this.add(starts, location, set)
    if (this.edges !== undefined) return (yield* this.edges.from(starts, ONWARD, within)).distances
    return (yield* this.layersFrom(starts, new Map(), within))!
  }

  get bytes(): number {
    return this.diagrams.bytes + (this.edges?.values.bytes ?? 0)
  }

  /** How much has been done, in diagrams that were put together. */
  get work(): number {
    return this.diagrams.work + (this.edges?.values.work ?? 0)
  }

  /** States come to so far; where they are more than a number can tell, the largest. */
  get states(): number {
    const known = new Map<number, number>()
    let count = 0
    for (const set of this.reached.values()) count += this.diagrams.members(set, known)
    return Math.min(count, Number.MAX_VALUE)
  }

  decisionsOf({ state, pick, told }: Witness): number {
    if (told !== undefined) return told.decisions
    if (state < 0) return 0
    const { near, command } = this.observations.at(state)
    return near.distance + (pick === -1 || command!.action.decision === MOVE ? 0 : 1)
  }

  /** What the game gave where something was seen before anything was decided. */
  begunFor({ state }: Pick<Witness, 'state'>): readonly Assignment[] {
    return this.begun[-2 - state] ?? []
  }

  /** What was seen as a witness says; undefined where that was before anything was decided, or by another search. */
  observed({ state, told }: Witness): Observation | undefined {
    return told !== undefined || state < 0 ? undefined : this.observations.at(state)
  }

  routeOf({ state, pick, told }: Witness): RouteItem[] {
    if (told !== undefined) return told.route()
    if (state < 0) return this.tellBegun(this.begunFor({ state }))
    const { near, location, command } = this.observations.at(state)
    if (command === undefined) return this.routeInto(this.distances, near, location)
    // what is seen in the state itself may be seen for what is given alone
    const last = pick === -1 ? { item: undefined, given: command.action.given } : this.legOf(command)
    return this.routeInto(this.distances, near, location, [last])
  }

  /** How far goals are, in decisions, from the states that were come to and from which some of them can be. */
  *distancesTo(goals: Sets): Slices<Distances> {
    if (this.edges !== undefined) return (yield* this.edges.from(goals, BACK, this.reached)).distances
    const { diagrams } = this
    const all: Sets = new Map(goals)
    const layers: Level[] = []
    const preimage = function* (search: SymbolicSearch, of: readonly Level[], isMove: boolean): Slices<Sets> {
      const before: Sets = new Map()
      for (const { sets } of of) {
        for (const [location, set] of sets) {
          for (const group of search.into[location] ?? []) {
            const { from } = group
            if (group.isMove !== isMove) continue
            const known = all.get(from) ?? EMPTY
            const fresh = diagrams.minus(search.comeFromAny(group, set, search.reached.get(from)!), known)
            if (fresh !== EMPTY) {
              search.add(before, from, fresh)
              all.set(from, diagrams.union(known, fresh))
            }
            yield
          }
        }
      }
      return before
    }
    let next: Sets = new Map(goals)
    for (let distance = 0; next.size > 0; distance += 1) {
      const first = layers.length
      for (let sets = next; sets.size > 0; sets = yield* preimage(this, layers.slice(-1), true))
        layers.push({ sets, distance })
      next = yield* preimage(this, layers.slice(first), false)
    }
    return new Layers(diagrams, layers)
  }

  /** The nearest of some states of a location, of those that were come to, from which a command goes. */
  nearestBefore(command: GuardedCommand, set: number, below: number): Near | undefined {
    const { conditions, diagrams, distances } = this
    const { filter, from, guard } = command
    const before = () => this.before(command, set)
    if (filter.conditions.length === 0) return distances.nearestBefore(from, guard, before, below)
    // what is asked is mostly a far smaller set than what was come to
    const allowed = conditions.everywhere(filter)
    return distances.nearest(from, allowed === undefined ? before() : diagrams.image(guard, allowed), below)
  }

  /** All states that were come to and from which goals, some of them, can be reached. */
  *comingTo(goals: Sets, within: (location: number) => boolean = () => true): Generator<void, Sets> {
    const { diagrams, reached } = this
    const all: Sets = new Map()
    const waiting = new Set<number>()
    const closed = (location: number, set: number) => this.closedBefore(location, set, reached.get(location)!)
    const grow = function* (location: number, more: number): Slices<void> {
      const old = all.get(location) ?? EMPTY
      const grown = diagrams.union(old, more)
      if (grown === old) return
      all.set(location, yield* closed(location, grown))
      waiting.add(location)
    }
    for (const [location, set] of goals) yield* grow(location, set)
    for (const location of waiting) {
      waiting.delete(location)
      const set = all.get(location)!
      for (const group of this.into[location] ?? []) {
        // what leads back to where it goes from is in it already
        if (!within(group.from) || this.locations[group.from]!.loops.whole.has(group)) continue
        yield
        const before = () => this.comeFromAny(group, set, reached.get(group.from)!)
        yield* grow(group.from, yield* diagrams.inTurns(before))
      }
    }
    return all
  }

  /** Where decisions, or changes of what is given, lead from some sets. */
  *follow(sets: Sets, isMove: boolean, next: Sets): Generator<void, void> {
    for (const [location, set] of sets)
      for (const group of this.locations[location]!.groups) {
        if (group.isMove !== isMove) continue
        const image = yield* this.diagrams.inTurns(() => this.afterAny(group, set))
        if (image !== EMPTY) this.add(next, group.to, image)
        yield
      }
  }

  /** Hears of what some slots hold when the story comes to a point before anything is decided; gives the states in which it rests then, none for one that runs for ever. */
  passedAtStart(
    point: Point,
    slots: readonly number[],
    hear: (values: Int32Array) => void,
  ): { readonly location: number | undefined; readonly set: number }[] {
    const starts = inOneGo(this.actions.begin(point, slots, hear))
    if (starts === undefined) throw new TooMuch()
    return starts
      .filter(({ passed }) => passed.length > 0)
      .map(({ location, values, given }) => {
        return location === ENDLESS
          ? { location: undefined, set: EMPTY }
          : { location, set: this.opening(location, values, given) }
      })
  }

  /** The commands of a location that come to a point, with what some slots hold there; undefined where there are too many. */
  commandsPassing(location: number, point: Point, slots: readonly number[]): GuardedCommand[] | undefined {
    return this.actions
      .at(location, point, slots)
      ?.filter(({ passed }) => passed.length > 0)
      .map((action) => this.maker.command(location, action))
  }

  /** All states, at some locations, in which a slot has one of some values. */
  havingAny(slot: number, values: readonly number[], at: (location: number) => boolean = () => true): Sets {
    const found: Sets = new Map()
    for (const [location, set] of this.reached) {
      if (!at(location)) continue
      for (const value of values) {
        const having = this.having(location, set, slot, value)
        if (having !== EMPTY) this.add(found, location, having)
      }
    }
    return found
  }

  /** All states in which the story has ended, in just one way where that is given by its number. */
  ended(ending?: number): Sets {
    const { beats } = this.story
    const isMeant = (location: number) =>
      this.isEnding(location) && (ending === undefined || beats[location]!.ending === ending)
    return new Map([...this.reached].filter(([location]) => isMeant(location)))
  }

  isEnding(location: number): boolean {
    return isEnding(this.search.story, location)
  }
}
