import type { Slices } from '../../base/slices'
import type { Slots } from '../analysis/slots'
import type { LocationSlots } from './paths/location-slots'
import type { Assignment } from './paths/demand'
import type { Range } from './paths/ranges'
import { isIdle, RelationMaker, type PlacedStep, type Relation, type Step, type Variable } from './diagrams/relation'

/** Commands of which it is told what they do before others get their turn. */
const STEPS_A_TURN = 512

/** A slot that states hold before or after a command. */
interface HeldSlot extends Variable {
  readonly slot: number
  readonly min: number
  /** What it is set to where no command says so: its value at the target where only that has it. */
  readonly unset: number
}

/** The slots on the way from one location to another, in order, with the place of each, and what happens to those that no command touches. */
interface Way {
  readonly variables: readonly HeldSlot[]
  readonly places: ReadonlyMap<number, number>
  readonly idle: ReadonlyMap<number, Step>
}

/** What a command asks for and sets. */
export interface Command {
  readonly guards: readonly Assignment[]
  readonly ranges?: readonly Range[]
  readonly writes: readonly Assignment[]
}

/** Makes relations out of what actions ask and set; which slots sets tell at a location is what states hold there. */
export class Relations {
  private readonly held: (readonly number[] | undefined)[] = []
  private readonly heldSets: (ReadonlySet<number> | undefined)[] = []
  /** By two locations. */
  private readonly ways = new Map<string, Way>()
  /** By location, slot and value. */
  private readonly filters = new Map<string, Relation>()
  private readonly maker = new RelationMaker()

  constructor(
    private readonly slots: Slots,
    private readonly locationSlots: LocationSlots,
    /** The place of each slot among all. */
    private readonly order: Int32Array,
  ) {}

  /** What leads from states at one location to states at another by any of some commands. */
  of(from: number, to: number, commands: readonly Command[]): Relation {
    const way = this.wayFrom(from, to)
    return this.maker.of(
      way.variables,
      commands.map((command) => stepsOf(command, way)),
    )
  }

  /** The same; others get their turn where there are many. */
  *inTurns(from: number, to: number, commands: readonly Command[]): Slices<Relation> {
    const way = this.wayFrom(from, to)
    const steps: PlacedStep[][] = []
    for (const command of commands) {
      steps.push(stepsOf(command, way))
      if (steps.length % STEPS_A_TURN === 0) yield
    }
    return yield* this.maker.inTurns(way.variables, steps)
  }

  /** Leaves the states of a location that have the values of any of some lists. */
  keeping(location: number, values: readonly (readonly Assignment[])[]): Relation {
    return this.of(
      location,
      location,
      values.map((guards) => ({ guards, writes: [] })),
    )
  }

  /** Leaves the states in which a slot that they hold has a value. */
  having(location: number, slot: number, value: number): Relation {
    const key = `${location} ${slot} ${value}`
    const known = this.filters.get(key) ?? this.keeping(location, [[[slot, value]]])
    this.filters.set(key, known)
    return known
  }

  private wayFrom(from: number, to: number): Way {
    const key = `${from} ${to}`
    const known = this.ways.get(key)
    if (known !== undefined) return known
    const { locationSlots, slots } = this
    const [before, after] = [this.heldAt(from), this.heldAt(to)]
    const variables = [...new Set([...before, ...after])]
      .sort((a, b) => this.order[a]! - this.order[b]!)
      .map((slot): HeldSlot => {
        const { min, max } = slots.all[slot]!
        const isBefore = before.has(slot)
        const unset = isBefore ? -1 : locationSlots.knownAt(from, slot) - min
        return { slot, min, size: max - min + 1, from: isBefore, to: after.has(slot), unset }
      })
    const made = {
      variables,
      places: new Map(variables.map(({ slot }, at) => [slot, at])),
      idle: new Map(
        variables.flatMap((one, at) => {
          const step = anyOf(one)
          return isIdle(one, step) ? [] : [[at, step] as const]
        }),
      ),
    }
    this.ways.set(key, made)
    return made
  }

  /** The slots that states hold at a location, in order. */
  slotsAt(location: number): readonly number[] {
    return (this.held[location] ??= [...this.locationSlots.heldAt(location)].sort(
      (a, b) => this.order[a]! - this.order[b]!,
    ))
  }

  heldAt(location: number): ReadonlySet<number> {
    return (this.heldSets[location] ??= new Set(this.slotsAt(location)))
  }
}

/** What is done to a slot of which a command says nothing. */
function anyOf({ from, size, unset }: HeldSlot): Step {
  return { first: 0, last: from ? size - 1 : 0, write: unset, by: 0 }
}

/** What a command does to the variables of a way, in their order; those to which it does nothing are left out. */
function stepsOf({ guards, ranges = [], writes }: Command, { variables, places, idle }: Way): PlacedStep[] {
  const own = new Map<number, Step>(idle)
  for (const [slot, value] of guards) {
    const at = places.get(slot)!
    const { min, unset } = variables[at]!
    own.set(at, { first: value - min, last: value - min, write: unset, by: 0 })
  }
  for (const { slot, from, to, by } of ranges) {
    const at = places.get(slot)!
    const { min, unset, to: isTold } = variables[at]!
    own.set(at, { first: from - min, last: to - min, write: unset, by: isTold ? by : 0 })
  }
  for (const [slot, value] of writes) {
    const at = places.get(slot)
    if (at === undefined || !variables[at]!.to) continue
    const { first, last } = own.get(at) ?? anyOf(variables[at]!)
    const write = value - variables[at]!.min
    own.set(at, { first, last, write: first === last && write === first && variables[at]!.from ? -1 : write, by: 0 })
  }
  return [...own]
    .map(([at, step]): PlacedStep => ({ at, ...step }))
    .filter((step) => !isIdle(variables[step.at]!, step))
    .sort((a, b) => a.at - b.at)
}
