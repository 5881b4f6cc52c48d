import type { GuardedCommand } from './commands'
import type { SymbolicSearch } from './symbolic-search'

/** Commands of a location that go whatever holds there, or whatever else holds where one slot has a value. */
interface SureCommands {
  readonly always: readonly GuardedCommand[]
  readonly bySlot: ReadonlyMap<number, readonly GuardedCommand[]>
}

/**
 * Where a slot can be brought to one of some values whatever else holds, which takes no sets: by commands that ask for nothing but the
 * value that it has. What is not found may be possible all the same.
 */
export class SureEnds {
  private readonly sure = new Map<number, SureCommands>()

  constructor(private readonly search: SymbolicSearch) {}

  /** By location, of those that hold the slot: the values from which it can. */
  of(slot: number, goals: readonly number[], holds: (location: number) => boolean): Map<number, Set<number>> {
    const { min, max } = this.search.search.slots.all[slot]!
    const into = new Map<string, [location: number, value: number][]>()
    const locations = [...this.search.reached.keys()].filter(holds)
    for (const location of locations) {
      const { always, bySlot } = this.at(location)
      for (const { action } of [...always, ...(bySlot.get(slot) ?? [])]) {
        if (!holds(action.to)) continue
        const write = action.writes.find(([own]) => own === slot)?.[1]
        const guard = action.guards[0]?.[1]
        for (let value = guard ?? min; value <= (guard ?? max); value += 1) {
          const key = `${action.to} ${write ?? value}`
          const those = into.get(key) ?? []
          into.set(key, those)
          those.push([location, value])
        }
      }
    }
    const found = new Map(locations.map((location) => [location, new Set<number>()]))
    const waiting = locations.flatMap((location) => goals.map((value) => [location, value] as const))
    for (let one = waiting.pop(); one !== undefined; one = waiting.pop()) {
      const [location, value] = one
      const values = found.get(location)!
      if (values.has(value)) continue
      values.add(value)
      waiting.push(...(into.get(`${location} ${value}`) ?? []))
    }
    return found
  }

  private at(location: number): SureCommands {
    const known = this.sure.get(location)
    if (known !== undefined) return known
    const sure = this.search.joinedAt(location).filter(({ action: { to, guards, ranges, conditions } }) => {
      return to >= 0 && conditions.length === 0 && guards.length <= 1 && ranges.length === 0
    })
    const bySlot = new Map<number, GuardedCommand[]>()
    for (const command of sure) {
      const [guard] = command.action.guards
      if (guard === undefined) continue
      const those = bySlot.get(guard[0]) ?? []
      bySlot.set(guard[0], those)
      those.push(command)
    }
    const made = { always: sure.filter(({ action }) => action.guards.length === 0), bySlot }
    this.sure.set(location, made)
    return made
  }
}
