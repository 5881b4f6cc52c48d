import type { Followed } from '../interpreter/compile'
import type { Expr } from '../../expression/ast'
import type { LinkedStory } from '../../story/linked'
import type { RouteItem } from '../../story/types'
import type { EventLog, Witness } from '../interpreter/events'
import type { Programs } from '../interpreter/programs'
import type { Search } from '../explicit/search'
import type { Leg } from '../explicit/transition-player'
import type { LazyRoute } from '../findings/finding'
import type { Evidence } from '../findings/exploration'
import type { Slot } from '../analysis/slots'
import { tellRoute } from '../explicit/routes'
import { Actions, ENDLESS, MOVE, type Assignment, type Point } from './actions'
import {
  CommandMaker,
  isEnding,
  type CommandGroup,
  type Filter,
  type GuardedCommand,
  type LocationCommands,
} from './commands'
import { Diagrams, type DiagramLimits, EMPTY, TooMuch } from './diagrams'
import { Observations, type Level, type Sets } from './observations'
import type { Relation } from './relation'
import { Relations } from './relations'
import { slotOrder } from './slot-order'

/** The levels from which a level is come to, and whether that is a decision. */
export function levelsBefore(
  levels: readonly Level[],
  at: number,
): { readonly from: number[]; readonly isMove: boolean } {
  const { distance } = levels[at]!
  if (at > 0 && levels[at - 1]!.distance === distance) return { from: [at - 1], isMove: true }
  const from: number[] = []
  for (let one = at - 1; one >= 0 && levels[one]!.distance === distance - 1; one -= 1) from.push(one)
  return { from, isMove: false }
}

/** Sets that may be made for all states from which a command goes. */
const DOMAIN_NODES = 50_000
/**
 * Breadth-first search over sets of states instead of states (symbolic model checking; Burch, Clarke, McMillan,
 * Dill, Hwang: Symbolic model checking: 10^20 states and beyond, 1992), for stories in which much that has little to do
 * with one another is open at once: their states are too many to be looked at one by one, but
 * sets of them are small. States are those of the other search, so what is left out there is left out here.
 * Depths, events and routes mean the same; a witness's state is the number of an observation.
 */
export class SymbolicSearch implements Evidence {
  readonly diagrams: Diagrams
  readonly events: EventLog
  readonly programs: Programs
  /** States by how near they are to the start. */
  readonly levels: Level[] = []
  /** Ways to begin, with the states that each leads to. */
  readonly beginnings: { readonly location: number; readonly set: number; readonly given: readonly Assignment[] }[] = []
  /** What was given where the story began in such a way that something was seen: by observation, from −2 downwards. */
  private readonly begun: (readonly Assignment[])[] = []
  readonly reached: Sets = new Map()
  readonly actions: Actions
  private readonly locations: (LocationCommands | undefined)[] = []
  /** By location: commands that lead there. */
  private readonly into: CommandGroup[][] = []
  private readonly relations: Relations
  private readonly observations: Observations
  /** By location and condition. */
  private readonly holding: (Map<Expr, Relation> | undefined)[] = []
  private readonly beats: number
  private readonly maker: CommandMaker

  constructor(
    readonly search: Search,
    followed: Followed,
    limits?: DiagramLimits,
  ) {
    this.diagrams = new Diagrams(limits)
    const { story, slots, layout } = search
    this.beats = story.beats.length
    this.actions = new Actions(story, search, followed, limits?.isOver)
    this.events = this.actions.engine.events
    this.programs = this.actions.engine.programs
    this.relations = new Relations(slots, layout, slotOrder(story, slots))
    this.maker = new CommandMaker(search, this.actions, this.relations, limits?.isOver)
    this.observations = new Observations(this)
  }

  /** Goes through all states; stops to let others work. Gives whether it came to the end. */
  *run(): Generator<void, boolean> {
    const { story } = this.search
    const isOpenRange = (slot: Slot) => slot.kind === 'entry' && slot.wide !== undefined && !slot.wide.isFixed
    if (story.start === -1 || this.search.slots.all.some(isOpenRange)) return false
    const starts = this.actions.begin()
    if (starts === undefined) return false
    let next: Sets = new Map()
    for (const { location, values, given, onTheWay, asked } of starts) {
      this.begun.push(given)
      this.observations.note(onTheWay, asked, -1 - this.begun.length, -1)
      if (location === ENDLESS) continue
      if (this.locationAt(location) === undefined) return false
      const set = this.opening(location, values, given)
      this.beginnings.push({ location, set, given })
      this.add(next, location, set)
    }
    for (let distance = 0; next.size > 0; distance += 1) {
      const first = this.levels.length
      // what comes of changes alone is as near
      for (let level = next; level.size > 0;) {
        this.levels.push({ sets: level, distance })
        for (const [location, set] of level) this.add(this.reached, location, set)
        const moved: Sets = new Map()
        for (const [location] of level) if (this.locationAt(location) === undefined) return false
        yield* this.follow(level, true, moved)
        level = this.without(moved, this.reached)
      }
      const decided: Sets = new Map()
      for (const { sets } of this.levels.slice(first)) yield* this.follow(sets, false, decided)
      next = this.without(decided, this.reached)
    }
    yield* this.observations.make()
    return true
  }

  get story(): LinkedStory {
    return this.search.story
  }

  get bytes(): number {
    return this.diagrams.bytes
  }

  /** States come to so far. */
  get states(): number {
    const known = new Map<number, number>()
    let count = 0
    for (const set of this.reached.values()) count += this.diagrams.members(set, known)
    return count
  }

  decisionsOf({ state, pick, told }: Witness): number {
    if (told !== undefined) return told.decisions
    if (state < 0) return 0
    const { depth, command } = this.observations.at(state)
    return this.levels[depth]!.distance + (pick === -1 || command!.action.decision === MOVE ? 0 : 1)
  }

  routeOf({ state, pick, told }: Witness): RouteItem[] {
    if (told !== undefined) return told.route()
    if (state < 0) return this.tellBegun(this.begun[-2 - state] ?? [])
    const { depth, location, set, command } = this.observations.at(state)
    const some = command === undefined ? set : this.diagrams.withRoom(() => this.before(command, set))
    if (command === undefined) return this.routeInto(this.levels, depth, location, some)
    // what is seen in the state itself may be seen for what is given alone
    const last = pick === -1 ? { item: undefined, given: command.action.given } : this.legOf(command)
    return this.routeInto(this.levels, depth, location, some, [last])
  }

  /** How the story begins with what the game gives. */
  tellBegun(given: readonly Assignment[]): RouteItem[] {
    return this.told(given, [])
  }

  private told(begun: readonly Assignment[], legs: readonly Leg[]): RouteItem[] {
    const { search } = this
    return tellRoute(
      begun,
      legs,
      (given) => search.givenItem(given).given,
      (slot) => search.slots.all[slot]!.initial,
    )
  }

  /** A command as it is told in a route. */
  legOf(command: GuardedCommand): Leg {
    const { given, decision } = command.action
    return { item: decision === MOVE ? undefined : this.decision(command), given }
  }

  /** The states in which the story can first rest: what is held and was not asked for on the way may be anything that the game gives. */
  private opening(location: number, values: readonly number[], given: readonly Assignment[]): number {
    const { slots, givens } = this.search
    let set = this.single(location, values)
    for (const slot of [...givens.plan.begin, ...givens.plan.held]) {
      if (!this.isHeldAt(location, slot) || given.some(([own]) => own === slot)) continue
      const one = slots.all[slot]!
      const options = one.kind === 'entry' ? one.given!.options : []
      set = options.reduce(
        (all, value) => this.diagrams.union(all, this.withValues(location, set, [[slot, value]])),
        set,
      )
    }
    return set
  }

  /** What the game gave for the story to begin in a state. */
  givenFor(location: number, state: number): readonly Assignment[] {
    const { givens } = this.search
    const found = this.beginnings.find(
      (one) => one.location === location && this.diagrams.both(one.set, state) !== EMPTY,
    )
    if (found === undefined) return []
    const values = this.valuesAt(location, this.diagrams.both(found.set, state))
    const held = [...givens.plan.begin, ...givens.plan.held].flatMap((slot): Assignment[] => {
      const own = values.get(slot)
      return own === undefined || found.given.some(([other]) => other === slot) ? [] : [[slot, own[0]!]]
    })
    return [...found.given, ...held]
  }

  /** A way to one of some states at a location, which are come to at a depth. */
  lazyRouteInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
    last?: GuardedCommand,
  ): LazyRoute {
    const isDecided = last !== undefined && last.action.decision !== MOVE
    return {
      length: levels[depth]!.distance + (isDecided ? 1 : 0),
      take: () => this.routeInto(levels, depth, location, set, last === undefined ? [] : [this.legOf(last)]),
    }
  }

  /** A way from the start to one of some states of a level, and on by some legs. */
  routeInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
    last: readonly Leg[] = [],
  ): RouteItem[] {
    return this.diagrams.withRoom(() => {
      const { given, legs } = this.pathInto(levels, depth, location, set)
      return this.told(given, [...legs, ...last])
    })
  }

  /** The same as legs, with what the story begins with. */
  pathInto(
    levels: readonly Level[],
    depth: number,
    location: number,
    set: number,
  ): { readonly given: readonly Assignment[]; readonly legs: Leg[] } {
    const legs: Leg[] = []
    let at = location
    let goal = this.one(at, set)
    for (let level = depth; levels[level]!.distance > 0 || levelsBefore(levels, level).isMove;) {
      const step = this.stepInto(levels, level, at, goal)
      legs.push(this.legOf(step.command))
      at = step.command.from
      goal = this.one(at, step.before)
      level = step.level
    }
    return { given: this.givenFor(at, goal), legs: legs.reverse() }
  }

  /** Distances of states to where they lead, nearest first: sets from which goals can be reached by so many decisions, each state in the first of them. */
  *layersTo(goals: Sets, within: (location: number) => boolean = () => true): Generator<void, Level[]> {
    const { diagrams } = this
    const all: Sets = new Map(goals)
    const layers: Level[] = []
    const preimage = function* (search: SymbolicSearch, of: readonly Level[], isMove: boolean): Generator<void, Sets> {
      const before: Sets = new Map()
      for (const { sets } of of) {
        for (const [location, set] of sets) {
          for (const group of search.into[location] ?? []) {
            const { from } = group
            if (!within(from) || group.isMove !== isMove) continue
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
    return layers
  }

  /** All states that were come to and from which goals, some of them, can be reached. */
  *comingTo(goals: Sets, within: (location: number) => boolean = () => true): Generator<void, Sets> {
    const { diagrams, reached } = this
    const all: Sets = new Map()
    const waiting = new Set<number>()
    const grow = (location: number, more: number) => {
      const old = all.get(location) ?? EMPTY
      const grown = diagrams.union(old, more)
      if (grown === old) return
      all.set(location, diagrams.closureBefore(this.locations[location]!.loops, grown, reached.get(location)!))
      waiting.add(location)
    }
    for (const [location, set] of goals) grow(location, set)
    for (const location of waiting) {
      waiting.delete(location)
      const set = all.get(location)!
      for (const group of this.into[location] ?? []) {
        if (!within(group.from)) continue
        yield
        grow(group.from, this.comeFromAny(group, set, reached.get(group.from)!))
      }
    }
    return all
  }

  together(layers: readonly Level[]): Sets {
    const all: Sets = new Map()
    for (const { sets } of layers) for (const [location, set] of sets) this.add(all, location, set)
    return all
  }

  /** Of some states at a location, those in which a condition holds. */
  where(location: number, set: number, expr: Expr): number {
    if (set === EMPTY) return EMPTY
    const { diagrams } = this
    switch (expr.kind) {
      case 'and':
        return this.where(location, this.where(location, set, expr.left), expr.right)
      case 'or': {
        const left = this.where(location, set, expr.left)
        return diagrams.union(left, this.where(location, diagrams.minus(set, left), expr.right))
      }
      case 'not':
        return diagrams.minus(set, this.where(location, set, expr.operand))
      case 'arithmetic':
      case 'at':
      case 'bool':
      case 'compare':
      case 'ended':
      case 'entry':
      case 'in':
      case 'int':
      case 'negate':
      case 'order':
      case 'quest':
      case 'string':
      case 'taken':
      case 'visits':
        return diagrams.image(this.relationFor(location, expr), set)
    }
  }

  /** For a condition that has no parts: what leaves the states with the values for which it holds. */
  private relationFor(location: number, expr: Expr): Relation {
    const at = (this.holding[location] ??= new Map())
    const known = at.get(expr)
    if (known !== undefined) return known
    const { resting } = this.actions.engine
    resting.beat = location % this.beats
    resting.ending = location < this.beats ? this.search.story.beats[location]!.ending : -1
    const values = this.actions.valuesFor(location, expr)
    if (values === undefined) throw new TooMuch()
    const relation = this.relations.of(
      location,
      location,
      values.map((guards) => ({ guards, writes: [] })),
    )
    at.set(expr, relation)
    return relation
  }

  /** Those of some states from which a command goes. */
  before({ guard, filter }: GuardedCommand, set: number): number {
    return this.satisfying(filter, this.diagrams.image(guard, set))
  }

  /** Those of some states in which conditions turn out as they are meant. */
  private satisfying(filter: Filter, set: number): number {
    if (set === EMPTY || filter.conditions.length === 0) return set
    const { diagrams } = this
    if (filter.domain === undefined) {
      const most = diagrams.nodes + DOMAIN_NODES
      const all = diagrams.any(this.locations[filter.location]!.sizes)
      filter.domain = this.filtered(filter, all, () => diagrams.nodes > most) ?? null
    }
    return filter.domain === null ? this.filtered(filter, set)! : diagrams.both(set, filter.domain)
  }

  /** Undefined where it is given up on the way. */
  private filtered({ location, conditions }: Filter, set: number, isTooMuch = () => false): number | undefined {
    let some = set
    for (const [expr, outcome] of conditions) {
      const those = this.where(location, some, expr)
      some = outcome ? those : this.diagrams.minus(some, those)
      if (isTooMuch()) return undefined
    }
    return some
  }

  /** Where a command leads from some states. */
  after({ relation, filter }: GuardedCommand, set: number): number {
    return relation === undefined ? EMPTY : this.diagrams.image(relation, this.satisfying(filter, set))
  }

  /** Of some states, those from which a command leads to one of others. */
  comeFrom({ relation, filter }: GuardedCommand, others: number, set: number): number {
    if (relation === undefined) return EMPTY
    return this.satisfying(filter, this.diagrams.both(this.diagrams.preimage(relation, others), set))
  }

  /** Where any of some commands leads from some states. */
  afterAny({ filter, relation }: CommandGroup, set: number): number {
    return this.diagrams.image(relation, this.satisfying(filter, set))
  }

  /** Of some states, those from which any of some commands leads to one of others. */
  comeFromAny({ filter, relation }: CommandGroup, others: number, set: number): number {
    return this.satisfying(filter, this.diagrams.both(this.diagrams.preimage(relation, others), set))
  }

  /** Where decisions, or changes of what is given, lead from some sets. */
  *follow(sets: Sets, isMove: boolean, next: Sets): Generator<void, void> {
    for (const [location, set] of sets)
      for (const group of this.locations[location]!.groups) {
        if (group.isMove !== isMove) continue
        const image = this.afterAny(group, set)
        if (image !== EMPTY) this.add(next, group.to, image)
        yield
      }
  }

  /** Of some states at a location, those from which the story can't go on. */
  stuckIn(location: number, set: number): number {
    const { diagrams } = this
    const { goesOn, commands } = this.locations[location]!
    let stuck = diagrams.minus(set, diagrams.image(goesOn, set))
    for (const command of commands)
      if (command.action.goesOn && command.action.conditions.length > 0)
        stuck = diagrams.minus(stuck, this.before(command, stuck))
    return stuck
  }

  /** Those in which a slot that they hold has a value. */
  having(location: number, set: number, slot: number, value: number): number {
    return this.diagrams.image(this.relations.having(location, slot, value), set)
  }

  /** The values that slots held at a location have in some of the states. */
  valuesAt(location: number, set: number): Map<number, number[]> {
    const { all } = this.search.slots
    const found = this.diagrams.valuesIn(set)
    return new Map(
      this.relations
        .slotsAt(location)
        .map((slot, at) => [slot, [...found[at]!].map((value) => value + all[slot]!.min)]),
    )
  }

  /** Hears of what slots hold when the story comes to a point before anything is decided; gives the states in which it rests then, none for one that runs for ever. */
  passedAtStart(
    point: Point,
    hear: (values: Int32Array) => void,
  ): { readonly location: number | undefined; readonly set: number }[] {
    const starts = this.actions.begin(point, hear)
    if (starts === undefined) throw new TooMuch()
    return starts
      .filter(({ isPassed }) => isPassed)
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

  /** States of a location with other values of slots that they hold. */
  withValues(location: number, set: number, values: readonly Assignment[]): number {
    return this.diagrams.image(this.relations.of(location, location, [{ guards: [], writes: values }]), set)
  }

  /** Whether states at a location hold a slot. */
  isHeldAt(location: number, slot: number): boolean {
    return this.relations.slotsAt(location).includes(slot)
  }

  commandsOf(location: number): readonly GuardedCommand[] {
    return this.locations[location]!.commands
  }

  add(sets: Sets, location: number, set: number): void {
    sets.set(location, this.diagrams.union(sets.get(location) ?? EMPTY, set))
  }

  /** What is in some sets and not in others; none that is empty. */
  without(sets: Sets, others: Sets): Sets {
    const left: Sets = new Map()
    for (const [location, set] of sets) {
      const fresh = this.diagrams.minus(set, others.get(location) ?? EMPTY)
      if (fresh !== EMPTY) left.set(location, fresh)
    }
    return left
  }

  isEnding(location: number): boolean {
    return isEnding(this.search.story, location)
  }

  decision({ from, action }: GuardedCommand): RouteItem {
    if (action.decision === MOVE) return this.search.givenItem(action.given)
    const beat = this.search.story.beats[from]!
    const program = this.programs.of(from)
    return program.asks
      ? { at: beat.address, word: this.search.wordOf(program, action.decision) }
      : { choice: beat.choices[action.decision]!.address }
  }

  /** The set of one of its states. */
  one(location: number, set: number): number {
    return this.diagrams.single(this.diagrams.pick(set), this.locations[location]!.sizes)
  }

  private stepInto(
    levels: readonly Level[],
    at: number,
    location: number,
    goal: number,
  ): { readonly command: GuardedCommand; readonly before: number; readonly level: number } {
    const { from, isMove } = levelsBefore(levels, at)
    for (const group of this.into[location]!) {
      if (group.isMove !== isMove) continue
      for (const level of from) {
        const set = levels[level]!.sets.get(group.from)
        if (set === undefined) continue
        const some = this.comeFromAny(group, goal, set)
        if (some === EMPTY) continue
        const one = this.one(group.from, some)
        for (const command of group.commands) {
          const before = this.comeFrom(command, goal, one)
          if (before !== EMPTY) return { command, before, level }
        }
      }
    }
    throw new Error('internal: a state without a predecessor')
  }

  private single(location: number, values: readonly number[]): number {
    const { slots, sizes } = this.locations[location]!
    const { all } = this.search.slots
    return this.diagrams.single(
      slots.map((slot) => values[slot]! - all[slot]!.min),
      sizes,
    )
  }

  private locationAt(location: number): LocationCommands | undefined {
    const known = this.locations[location]
    if (known !== undefined) return known
    const made = this.maker.at(location)
    for (const group of made?.groups ?? []) (this.into[group.to] ??= []).push(group)
    return (this.locations[location] = made)
  }
}
