import type { Followed } from '../interpreter/compile'
import type { Expr } from '../../expression/ast'
import type { Decision } from '../../story/types'
import type { EventLog, Witness } from '../interpreter/events'
import type { Programs } from '../interpreter/programs'
import type { Search } from '../explicit/search'
import type { LazyRoute } from '../findings/finding'
import type { Evidence } from '../findings/exploration'
import { Actions, CLOSED, ENDLESS, type Action, type Assignment, type Point } from './actions'
import { Diagrams, type DiagramLimits, EMPTY, TooMuch, type Relation } from './diagrams'
import { Relations } from './relations'
import { slotOrder } from './slot-order'

/** Sets of states by where they rest. */
export type Sets = Map<number, number>

/** An action with what it does to sets. */
export interface GuardedCommand {
  readonly from: number
  readonly action: Action
  /** Leaves the states with the values for which the action is meant. */
  readonly guard: Relation
  /** Leads to where they go; undefined where they go nowhere. */
  readonly relation: Relation | undefined
  /** Whether all that it shows has been noted. */
  isRecorded: boolean
}

/** A location that has been come to. */
interface LocationCommands {
  readonly slots: readonly number[]
  readonly sizes: readonly number[]
  readonly commands: readonly GuardedCommand[]
  /** Whether some choice is open in every state. */
  readonly isNeverStuck: boolean
}

/** States of one depth from which something was seen. */
interface Observation {
  readonly depth: number
  readonly location: number
  readonly set: number
  /** What is decided there, or undefined for what is seen in the state itself. */
  readonly command: GuardedCommand | undefined
}

/** Values of one slot beyond which it is given up. */
const VALUES_MAX = 1024

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
  /** By depth: states first come to there. */
  readonly levels: Sets[] = []
  readonly reached: Sets = new Map()
  readonly actions: Actions
  private readonly locations: (LocationCommands | undefined)[] = []
  /** By location: commands that lead there. */
  private readonly into: GuardedCommand[][] = []
  private readonly relations: Relations
  private readonly observations: Observation[] = []
  private readonly asked: Uint8Array
  /** By location and condition. */
  private readonly holding: (Map<Expr, readonly Relation[]> | undefined)[] = []
  private readonly beats: number

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
    this.relations = new Relations(this.diagrams, slots, layout, slotOrder(story, slots))
    this.asked = new Uint8Array(this.events.asked.length)
  }

  /** Goes through all states; stops to let others work. Gives whether it came to the end. */
  *run(): Generator<void, boolean> {
    const { story } = this.search
    if (story.start === -1 || this.search.slots.all.some((slot) => slot.kind === 'entry' && slot.wide !== undefined))
      return false
    const start = this.actions.begin()
    this.note(start.onTheWay, start.asked, undefined, -1)
    if (start.location !== ENDLESS) {
      if (this.locationAt(start.location) === undefined) return false
      this.levels.push(new Map([[start.location, this.single(start.location, start.values)]]))
    }
    for (let depth = 0; depth < this.levels.length; depth += 1) {
      const level = this.levels[depth]!
      for (const [location, set] of level) this.add(this.reached, location, set)
      const next: Sets = new Map()
      for (const [location, set] of level) {
        const place = this.locationAt(location)
        if (place === undefined) return false
        yield* this.expand(depth, location, set, place, next)
      }
      const fresh = this.without(next, this.reached)
      if (fresh.size > 0) this.levels.push(fresh)
    }
    this.events.asked.set(this.asked)
    return true
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
    return state === -1 ? 0 : this.observations[state]!.depth + (pick === -1 ? 0 : 1)
  }

  routeOf({ state, pick, told }: Witness): Decision[] {
    if (told !== undefined) return told.route()
    if (state === -1) return []
    const { depth, location, set, command } = this.observations[state]!
    const some = command === undefined ? set : this.diagrams.withRoom(() => this.before(command, set))
    const route = this.routeInto(this.levels, depth, location, some)
    if (pick !== -1) route.push(this.decision(command!))
    return route
  }

  /** A way to one of some states at a location, which are come to at a depth. */
  lazyRouteInto(
    levels: readonly Sets[],
    depth: number,
    location: number,
    set: number,
    last?: GuardedCommand,
  ): LazyRoute {
    return {
      length: depth + (last === undefined ? 0 : 1),
      take: () => [
        ...this.routeInto(levels, depth, location, set),
        ...(last === undefined ? [] : [this.decision(last)]),
      ],
    }
  }

  routeInto(levels: readonly Sets[], depth: number, location: number, set: number): Decision[] {
    return this.diagrams.withRoom(() => this.pathInto(levels, depth, location, set))
  }

  private pathInto(levels: readonly Sets[], depth: number, location: number, set: number): Decision[] {
    const route: Decision[] = []
    let at = location
    let goal = this.one(at, set)
    for (let level = depth - 1; level >= 0; level -= 1) {
      const step = this.stepInto(levels[level]!, at, goal)
      route.push(this.decision(step.command))
      at = step.command.from
      goal = this.one(at, step.before)
    }
    return route.reverse()
  }

  /** Distances of states to where they lead, nearest first: sets from which goals can be reached by so many decisions, each state in the first of them. */
  *layersTo(goals: Sets, within: (location: number) => boolean = () => true): Generator<void, Sets[]> {
    const { diagrams } = this
    const all: Sets = new Map(goals)
    const layers: Sets[] = [new Map(goals)]
    for (let layer = layers[0]!; layer.size > 0;) {
      const before: Sets = new Map()
      for (const [location, set] of layer) {
        for (const command of this.into[location] ?? []) {
          if (!within(command.from)) continue
          const known = all.get(command.from) ?? EMPTY
          const fresh = diagrams.minus(this.comeFrom(command, set, this.reached.get(command.from)!), known)
          if (fresh !== EMPTY) {
            this.add(before, command.from, fresh)
            all.set(command.from, diagrams.union(known, fresh))
          }
          yield
        }
      }
      if (before.size > 0) layers.push(before)
      layer = before
    }
    return layers
  }

  together(layers: readonly Sets[]): Sets {
    const all: Sets = new Map()
    for (const layer of layers) for (const [location, set] of layer) this.add(all, location, set)
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
        return this.relationsFor(location, expr).reduce(
          (found, relation) => diagrams.union(found, diagrams.image(relation, set)),
          EMPTY,
        )
    }
  }

  /** For a condition that has no parts: what leaves the states with the values for which it holds. */
  private relationsFor(location: number, expr: Expr): readonly Relation[] {
    const at = (this.holding[location] ??= new Map())
    const known = at.get(expr)
    if (known !== undefined) return known
    const { resting } = this.actions.engine
    resting.beat = location % this.beats
    resting.ending = location < this.beats ? this.search.story.beats[location]!.ending : -1
    const values = this.actions.valuesFor(location, expr)
    if (values === undefined) throw new TooMuch()
    const relations = values.map((guards) => this.relations.of(location, location, guards, []))
    at.set(expr, relations)
    return relations
  }

  /** Those of some states from which a command goes. */
  before({ from, guard, action }: GuardedCommand, set: number): number {
    let some = this.diagrams.image(guard, set)
    for (const [expr, outcome] of action.conditions) {
      const those = this.where(from, some, expr)
      some = outcome ? those : this.diagrams.minus(some, those)
    }
    return some
  }

  /** Where a command leads from some states. */
  after(command: GuardedCommand, set: number): number {
    return command.relation === undefined
      ? EMPTY
      : this.diagrams.image(command.relation, command.action.conditions.length === 0 ? set : this.before(command, set))
  }

  /** Of some states, those from which a command leads to one of others. */
  comeFrom(command: GuardedCommand, others: number, set: number): number {
    if (command.relation === undefined) return EMPTY
    const some = this.diagrams.both(this.diagrams.preimage(command.relation, others), set)
    return command.action.conditions.length === 0 ? some : this.before(command, some)
  }

  /** Those in which a slot that they hold has a value. */
  having(location: number, set: number, slot: number, value: number): number {
    return this.diagrams.image(this.relations.of(location, location, [[slot, value]], []), set)
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

  /** Hears of what slots hold when the story comes to a point before anything is decided; gives where it rests then (undefined for nowhere), or undefined when it does not come to it. */
  passedAtStart(
    point: Point,
    hear: (values: Int32Array) => void,
  ): { readonly location: number | undefined } | undefined {
    let passed = false
    const { location } = this.actions.begin(point, (values) => {
      passed = true
      hear(values)
    })
    return passed ? { location: location === ENDLESS ? undefined : location } : undefined
  }

  /** The commands of a location that come to a point, with what some slots hold there; undefined where there are too many. */
  commandsPassing(location: number, point: Point, slots: readonly number[]): GuardedCommand[] | undefined {
    return this.actions
      .at(location, point, slots)
      ?.filter(({ passed }) => passed.length > 0)
      .map((action) => this.commandFor(location, action))
  }

  /** States of a location with other values of slots that they hold. */
  withValues(location: number, set: number, values: readonly Assignment[]): number {
    return this.diagrams.image(this.relations.of(location, location, [], values), set)
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
    return location < this.beats && this.search.story.beats[location]!.ending !== -1
  }

  decision({ from, action }: GuardedCommand): Decision {
    const beat = this.search.story.beats[from]!
    const program = this.programs.of(from)
    return program.asks
      ? { at: beat.address, word: this.search.wordOf(program, action.decision) }
      : { choice: beat.choices[action.decision]!.address }
  }

  private *expand(
    depth: number,
    location: number,
    set: number,
    place: LocationCommands,
    next: Sets,
  ): Generator<void, void> {
    const { diagrams, events } = this
    let stuck = set
    for (const command of place.commands) {
      const { action, relation: relation } = command
      if (relation !== undefined) {
        const image = this.after(command, set)
        if (image === EMPTY) continue
        this.add(next, action.to, image)
        this.see(depth, location, set, command)
      } else if (!command.isRecorded && this.before(command, set) !== EMPTY) this.see(depth, location, set, command)
      if (!place.isNeverStuck && action.to !== CLOSED) stuck = diagrams.minus(stuck, this.before(command, stuck))
      yield
    }
    if (stuck === EMPTY || place.isNeverStuck || this.isEnding(location)) return
    const event = events.number('dead-end', this.search.story.beats[location % this.beats]!.address)
    if (events.occurred[event] === 1) return
    events.state = this.observations.push({ depth, location, set: stuck, command: undefined }) - 1
    events.pick = -1
    events.record(event)
  }

  private see(depth: number, location: number, set: number, command: GuardedCommand): void {
    if (command.isRecorded) return
    command.isRecorded = true
    const observation = this.observations.push({ depth, location, set, command }) - 1
    this.note(command.action.here, command.action.asked, observation, -1)
    this.note(command.action.onTheWay, [], observation, 0)
  }

  private note(
    events: readonly number[],
    asked: readonly Assignment[],
    observation: number | undefined,
    pick: number,
  ): void {
    this.events.state = observation ?? -1
    this.events.pick = pick
    for (const event of events) this.events.record(event)
    for (const [condition, outcome] of asked) this.asked[condition]! |= outcome
  }

  /** The set of one of its states. */
  one(location: number, set: number): number {
    return this.diagrams.single(this.diagrams.pick(set), this.locations[location]!.sizes)
  }

  private stepInto(
    level: Sets,
    location: number,
    goal: number,
  ): { readonly command: GuardedCommand; readonly before: number } {
    for (const command of this.into[location]!) {
      const set = level.get(command.from)
      if (set === undefined) continue
      const before = this.comeFrom(command, goal, set)
      if (before !== EMPTY) return { command, before }
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
    return (this.locations[location] ??= this.look(location))
  }

  /** Undefined where something there is too much for it. */
  private look(location: number): LocationCommands | undefined {
    const slots = this.relations.slotsAt(location)
    const sizes = slots.map((slot) => this.search.slots.all[slot]!).map(({ min, max }) => max - min + 1)
    if (sizes.some((size) => size > VALUES_MAX)) return undefined
    const ends = location >= this.beats || this.isEnding(location)
    const actions = ends ? [] : this.actions.at(location)
    if (actions === undefined) return undefined
    const commands = actions.map((action) => this.commandFor(location, action))
    for (const command of commands)
      if (command.relation !== undefined) (this.into[command.action.to] ??= []).push(command)
    return {
      slots,
      sizes,
      commands: commands,
      isNeverStuck: commands.some(
        ({ action }) => action.to !== CLOSED && action.guards.length === 0 && action.conditions.length === 0,
      ),
    }
  }

  private commandFor(from: number, action: Action): GuardedCommand {
    const { to, guards, writes } = action
    return {
      from,
      action,
      guard: this.relations.of(from, from, guards, []),
      relation: to < 0 ? undefined : this.relations.of(from, to, guards, writes),
      isRecorded: false,
    }
  }
}
