import type { Layout } from '../states/layout'
import type { Slots } from '../analysis/slots'
import type { Assignment } from './path-finder'
import { RelationMaker, type Relation, type Step, type Variable } from './relation'

/** A slot that states hold before or after a command. */
interface HeldSlot extends Variable {
  readonly slot: number
  readonly min: number
  /** What it is set to where no command says so: its value at the target where only that has it. */
  readonly unset: number
}

/** What a command asks for and sets. */
export interface Command {
  readonly guards: readonly Assignment[]
  readonly writes: readonly Assignment[]
}

/** Makes relations out of what actions ask and set; which slots sets tell at a location is what states hold there. */
export class Relations {
  private readonly held: (readonly number[] | undefined)[] = []
  /** By two locations. */
  private readonly variables = new Map<string, readonly HeldSlot[]>()
  /** By location, slot and value. */
  private readonly filters = new Map<string, Relation>()
  private readonly maker = new RelationMaker()

  constructor(
    private readonly slots: Slots,
    private readonly layout: Layout,
    /** The place of each slot among all. */
    private readonly order: Int32Array,
  ) {}

  /** What leads from states at one location to states at another by any of some commands. */
  of(from: number, to: number, commands: readonly Command[]): Relation {
    const variables = this.variablesOn(from, to)
    const places = new Map(variables.map(({ slot }, at) => [slot, at]))
    const idle = variables.map(({ unset }): Step => ({ guard: -1, write: unset }))
    const steps = commands.map(({ guards, writes }) => {
      const own = [...idle]
      for (const [slot, value] of guards) {
        const at = places.get(slot)!
        own[at] = { ...own[at]!, guard: value - variables[at]!.min }
      }
      for (const [slot, value] of writes) {
        const at = places.get(slot)
        if (at === undefined || !variables[at]!.to) continue
        const write = value - variables[at]!.min
        own[at] = { ...own[at]!, write: write === own[at]!.guard ? -1 : write }
      }
      return own
    })
    return this.maker.of(variables, steps)
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

  /** The slots that states hold at either of two locations, in order, as they go from one to the other where nothing is asked or set. */
  private variablesOn(from: number, to: number): readonly HeldSlot[] {
    const key = `${from} ${to}`
    const known = this.variables.get(key)
    if (known !== undefined) return known
    const { layout, slots } = this
    const [before, after] = [this.slotsAt(from), this.slotsAt(to)]
    const variables = [...new Set([...before, ...after])]
      .sort((a, b) => this.order[a]! - this.order[b]!)
      .map((slot): HeldSlot => {
        const { min, max } = slots.all[slot]!
        const isBefore = before.includes(slot)
        const unset = isBefore ? -1 : layout.knownAt(from, slot) - min
        return { slot, min, size: max - min + 1, from: isBefore, to: after.includes(slot), unset }
      })
    this.variables.set(key, variables)
    return variables
  }

  /** The slots that states hold at a location, in order. */
  slotsAt(location: number): readonly number[] {
    return (this.held[location] ??= this.layout
      .fieldsOf(location)
      .map(({ slot }) => slot)
      .sort((a, b) => this.order[a]! - this.order[b]!))
  }
}
