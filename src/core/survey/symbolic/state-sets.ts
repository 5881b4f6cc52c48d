import type { Slices } from '../../base/slices'
import type { LinkedStory } from '../../story/linked'
import type { Followed } from '../interpreter/condition-compiler'
import type { EventLog } from '../interpreter/events'
import type { Machine } from '../interpreter/machine'
import type { Programs } from '../interpreter/programs'
import type { Search } from '../explicit/search'
import { Actions, MOVE } from './paths/actions'
import type { Assignment } from './paths/demand'
import {
  CommandMaker,
  type CommandGroup,
  type Filter,
  type GuardedCommand,
  type LocationCommands,
  type Loops,
} from './commands'
import { ANYTHING, Diagrams } from './diagrams/diagrams'
import { type DiagramLimits, EMPTY } from './diagrams/node-table'
import { LocationSlots } from './paths/location-slots'
import type { Relation } from './diagrams/relation'
import { Relations } from './relations'
import { SetConditions } from './set-conditions'
import { slotOrder } from './slot-order'

/** Sets of states by where they rest. */
export type Sets = Map<number, number>

/**
 * States as near as one another, in decisions, to where one began. What is come to without a decision, as something
 * given changes, is a level of its own behind the one that it is come to from.
 */
export interface Level {
  readonly sets: Sets
  readonly distance: number
}

/** Commands with conditions that are asked one after another. */
const FEW_ASKING = 8

/** Sets of states: what of them meets a condition, what commands make of them. */
export abstract class StateSets {
  readonly diagrams: Diagrams
  readonly events: EventLog
  readonly programs: Programs
  readonly actions: Actions
  protected readonly locations: (LocationCommands | undefined)[] = []
  /** By location: commands that lead there. */
  protected readonly into: CommandGroup[][] = []
  protected readonly relations: Relations
  readonly locationSlots: LocationSlots
  protected readonly maker: CommandMaker
  readonly conditions: SetConditions

  constructor(
    readonly search: Search,
    followed: Followed,
    protected readonly limits?: DiagramLimits,
    /** The place of each slot among all. */
    readonly order = slotOrder(search.story, search.slots),
  ) {
    this.diagrams = new Diagrams(limits)
    const { story, slots, layout } = search
    this.locationSlots = new LocationSlots(layout, 2 * story.beats.length)
    this.actions = new Actions(story, search, this.locationSlots, followed, limits?.isOver, limits?.many)
    this.events = this.actions.engine.events
    this.programs = this.actions.engine.programs
    this.relations = new Relations(slots, this.locationSlots, order)
    this.maker = new CommandMaker(search, this.actions, this.relations, limits?.isOver)
    this.conditions = new SetConditions(search.story, this.actions, this.relations, this.diagrams, this.maker)
    this.maker.facts = this.conditions
  }

  get story(): LinkedStory {
    return this.search.story
  }

  /** Those of some states from which a command goes. */
  before({ guard, filter }: GuardedCommand, set: number): number {
    return this.conditions.satisfying(filter, this.diagrams.image(guard, set))
  }

  /** Where a command leads from some states. */
  after({ relation, filter }: GuardedCommand, set: number): number {
    return relation === undefined ? EMPTY : this.diagrams.image(relation, this.conditions.satisfying(filter, set))
  }

  /** Of some states, those from which a command leads to one of others. */
  comeFrom({ relation, filter }: GuardedCommand, others: number, set: number): number {
    if (relation === undefined) return EMPTY
    return this.leadingTo(relation, filter, others, set)
  }

  /** Where any of some commands leads from some states. */
  afterAny({ filter, relation, within }: CommandGroup, set: number): number {
    const after = this.diagrams.image(relation, this.conditions.satisfying(filter, set))
    return within === undefined ? after : this.diagrams.both(after, within)
  }

  /** Whether any of some commands leads somewhere from some states. */
  leadsAny({ filter, relation, within }: CommandGroup, set: number): boolean {
    return this.diagrams.leads(relation, this.conditions.satisfying(filter, set), within ?? ANYTHING)
  }

  /** Of some states, those from which any of some commands leads to one of others. */
  comeFromAny({ filter, relation, within }: CommandGroup, others: number, set: number): number {
    const { diagrams } = this
    const those = within === undefined ? others : diagrams.both(others, within)
    return this.leadingTo(relation, filter, those, set)
  }

  /** Of some states that a filter keeps, those from which a relation leads to one of others. */
  private leadingTo(relation: Relation, filter: Filter, others: number, set: number): number {
    const { conditions, diagrams } = this
    // looked for among those that are kept, which are known, rather than kept of those that are found
    const kept = conditions.known(filter, set)
    return kept === undefined
      ? conditions.satisfying(filter, diagrams.preimage(relation, others, set))
      : diagrams.preimage(relation, others, kept)
  }

  /** Some states of a location, and all others of `all` from which what leads back to it without conditions comes to them. */
  *closedBefore(location: number, set: number, all: number): Slices<number> {
    const { diagrams } = this
    const { relation, within } = this.locations[location]!.loops
    if (within === undefined) return yield* diagrams.closureBefore(relation, set, all)
    const closed = yield* diagrams.closureBefore(relation, diagrams.both(set, within), diagrams.both(all, within))
    return diagrams.union(set, closed)
  }

  /** Of some states at a location, those from which the story can't go on. */
  stuckIn(location: number, set: number): number {
    const { diagrams } = this
    const { goesOn, joined } = this.locations[location]!
    const asking = joined.filter(({ action }) => action.goesOn && action.conditions.length > 0)
    let stuck = diagrams.minus(set, diagrams.image(goesOn, set))
    // where there are many it is asked all at once whether some choice is open
    const offered = asking.length > FEW_ASKING && stuck !== EMPTY ? this.conditions.offeredAt(location) : undefined
    if (offered !== undefined) stuck = diagrams.minus(stuck, offered)
    for (const command of asking) {
      if (stuck === EMPTY) return EMPTY
      if (offered === undefined || command.action.decision === MOVE)
        stuck = diagrams.minus(stuck, this.before(command, stuck))
    }
    return stuck
  }

  /** Those in which a slot has a value. */
  having(location: number, set: number, slot: number, value: number): number {
    if (!this.isHeldAt(location, slot)) return this.locationSlots.knownAt(location, slot) === value ? set : EMPTY
    return this.diagrams.image(this.relations.having(location, slot, value), set)
  }

  /** The slots that sets tell at a location, in order. */
  slotsAt(location: number): readonly number[] {
    return this.relations.slotsAt(location)
  }

  /** What comes of something that is played where states stand, as commands that lead on or nowhere; undefined where that is too much. */
  *commandsPlaying(
    location: number,
    go: (values: Int32Array, machine: Machine) => number,
  ): Slices<GuardedCommand[] | undefined> {
    const actions = yield* this.actions.played(location, go)
    return actions && this.maker.from(location, actions)
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

  /** The same for any slot: what states there do not hold is known. */
  valueReader(location: number, set: number): (slot: number) => readonly number[] {
    const held = this.valuesAt(location, set)
    return (slot) => held.get(slot) ?? [this.locationSlots.knownAt(location, slot)]
  }

  /** Values of the variables of a location's sets, in order; `read` tells what a slot holds. */
  variablesFrom(location: number, read: (slot: number) => number): number[] {
    const { all } = this.search.slots
    return this.relations.slotsAt(location).map((slot) => read(slot) - all[slot]!.min)
  }

  /** States of a location with other values of slots that they hold. */
  withValues(location: number, set: number, values: readonly Assignment[]): number {
    return this.diagrams.image(this.relations.of(location, location, [{ guards: [], writes: values }]), set)
  }

  /** Whether states at a location hold a slot. */
  isHeldAt(location: number, slot: number): boolean {
    return this.relations.heldAt(location).has(slot)
  }

  commandsOf(location: number): readonly GuardedCommand[] {
    return this.locations[location]!.commands
  }

  joinedAt(location: number): readonly GuardedCommand[] {
    return this.locations[location]!.joined
  }

  groupsOf(location: number): readonly CommandGroup[] {
    return this.locations[location]!.groups
  }

  /** Commands that lead to a location. */
  groupsInto(location: number): readonly CommandGroup[] {
    return this.into[location] ?? []
  }

  loopsOf(location: number): Loops {
    return this.locations[location]!.loops
  }

  /** All that states of a location could be. */
  statesOf(location: number): number {
    return this.diagrams.any(this.locations[location]!.sizes)
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

  /** What is in some sets and in others, too. */
  both(sets: Sets, others: Sets): Sets {
    return new Map(
      [...sets].map(([location, set]) => [location, this.diagrams.both(set, others.get(location) ?? EMPTY)]),
    )
  }

  /** The set of one of its states. */
  one(location: number, set: number): number {
    return this.diagrams.single(this.diagrams.pick(set), this.locations[location]!.sizes)
  }

  /** Works out what can be decided at a location; false where that is too much. */
  protected *prepare(location: number): Slices<boolean> {
    if (this.locations[location] !== undefined) return true
    const made = yield* this.maker.at(location)
    for (const group of made?.groups ?? []) (this.into[group.to] ??= []).push(group)
    this.locations[location] = made
    return made !== undefined
  }
}
