import type { Layout } from '../states/layout'
import type { Slots } from '../analysis/slots'
import type { Assignment } from './actions'
import type { Diagrams, Relation, Step } from './diagrams'

/** A slot that states hold before or after a command. */
interface Variable {
  readonly slot: number
  readonly min: number
  readonly step: Step
}

/** Makes relations out of what actions ask and set; which slots sets tell at a location is what states hold there. */
export class Relations {
  private readonly held: (readonly number[] | undefined)[] = []
  /** By two locations. */
  private readonly variables = new Map<string, readonly Variable[]>()

  constructor(
    private readonly diagrams: Diagrams,
    private readonly slots: Slots,
    private readonly layout: Layout,
    /** The place of each slot among all. */
    private readonly order: Int32Array,
  ) {}

  /** What leads from states at one location to states at another, where slots have values and are set. */
  of(from: number, to: number, guards: readonly Assignment[], writes: readonly Assignment[]): Relation {
    const variables = this.variablesOn(from, to)
    const steps = variables.map(({ step }): Step => ({ ...step }))
    const at = (slot: number) => variables.findIndex((one) => one.slot === slot)
    for (const [slot, value] of guards) {
      const index = at(slot)
      steps[index] = { ...steps[index]!, guard: value - variables[index]!.min }
    }
    for (const [slot, value] of writes) {
      const index = at(slot)
      if (index === -1 || !steps[index]!.to) continue
      const write = value - variables[index]!.min
      steps[index] = { ...steps[index]!, write: write === steps[index]!.guard ? -1 : write }
    }
    return this.diagrams.relation(steps)
  }

  /** The slots that states hold at either of two locations, in order, as they go from one to the other where nothing is asked or set. */
  private variablesOn(from: number, to: number): readonly Variable[] {
    const key = `${from} ${to}`
    const known = this.variables.get(key)
    if (known !== undefined) return known
    const { layout, slots } = this
    const [before, after] = [this.slotsAt(from), this.slotsAt(to)]
    const variables = [...new Set([...before, ...after])]
      .sort((a, b) => this.order[a]! - this.order[b]!)
      .map((slot): Variable => {
        const { min, max } = slots.all[slot]!
        const [isBefore, isAfter] = [before.includes(slot), after.includes(slot)]
        return {
          slot,
          min,
          step: {
            size: max - min + 1,
            from: isBefore,
            to: isAfter,
            guard: -1,
            write: isBefore ? -1 : layout.knownAt(from, slot) - min,
          },
        }
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
