import type { Slices } from '../../base/slices'
import type { CommandGroup } from './commands'
import { EdgeDistances, type Valued } from './distances'
import { EdgeValues, ONWARD, type Direction } from './edge-values'
import { EMPTY, type DiagramLimits } from './node-table'
import type { Sets, StateSets } from './state-sets'

/** What of a search over sets distances are worked out with. */
export type Roads = Pick<StateSets, 'allowed' | 'diagrams' | 'groupsInto' | 'groupsOf' | 'loopsOf' | 'statesOf'>

/**
 * Distances as edge-valued diagrams: from location to location until nothing gets nearer, at each of them closed under what leads
 * back to it. Where nothing changes as the game gives it.
 */
export class EdgeSearch {
  readonly values: EdgeValues

  constructor(
    private readonly roads: Roads,
    limits?: DiagramLimits,
  ) {
    this.values = new EdgeValues(roads.diagrams, limits)
  }

  /**
   * From some states onward, or back, through members of `within` alone, if that is told; `prepare` works out what can be decided at a
   * location that is come to. Throws TooMuch.
   */
  *from(
    starts: Sets,
    direction: Direction,
    within?: Sets,
    prepare?: (location: number) => Slices<void>,
  ): Slices<{ readonly distances: EdgeDistances; readonly reached: Sets }> {
    const { roads, values } = this
    const at = new Map<number, Valued>()
    const waiting = new Set<number>()
    const grow = (location: number, node: number, offset: number) => {
      const set = within?.get(location) ?? (within === undefined ? undefined : EMPTY)
      const more = set === undefined ? node : values.restrict(node, set)
      if (more === EMPTY) return
      const plus = offset + (set === undefined ? 0 : values.offset)
      const known = at.get(location)
      const isNearer = known === undefined || plus < known.offset
      const all =
        known === undefined
          ? more
          : isNearer
            ? values.lesser(more, known.node, known.offset - plus)
            : values.lesser(known.node, more, plus - known.offset)
      if (!isNearer && all === known.node) return
      at.set(location, { node: this.closed(location, all, direction, set), offset: isNearer ? plus : known.offset })
      waiting.add(location)
    }
    for (const [location, set] of starts) {
      if (prepare !== undefined) yield* prepare(location)
      grow(location, values.zero(set), 0)
    }
    for (const location of waiting) {
      waiting.delete(location)
      for (const group of direction === ONWARD ? roads.groupsOf(location) : roads.groupsInto(location)) {
        if (roads.loopsOf(group.from).whole.has(group)) continue
        const next = direction === ONWARD ? group.to : group.from
        if (prepare !== undefined) yield* prepare(next)
        yield
        const { node, offset } = at.get(location)!
        const made = this.along(group, node, direction)
        grow(next, made, offset + values.offset + 1)
      }
    }
    return { distances: new EdgeDistances(values, at), reached: this.members(at) }
  }

  private members(at: ReadonlyMap<number, Valued>): Sets {
    return new Map([...at].map(([location, { node }]) => [location, this.values.members(node)]))
  }

  /** A function on the states of a location with all that leads back to it. */
  private closed(location: number, node: number, direction: Direction, within?: number): number {
    const { roads, values } = this
    const { relation, within: open } = roads.loopsOf(location)
    const { diagrams } = roads
    const own = open ?? roads.statesOf(location)
    const all = within === undefined ? own : diagrams.both(own, within)
    const some = values.restrict(node, all)
    if (some === EMPTY) return node
    const { offset } = values
    return values.lesser(node, values.closed(relation, some, all, direction), offset)
  }

  /** Where commands lead, or from where they do; the offset of it is the last one. */
  private along({ relation, filter, within }: CommandGroup, node: number, direction: Direction): number {
    const { roads, values } = this
    const narrow = (one: number, more: number, set: number | undefined): number => {
      const made = set === undefined ? one : values.restrict(one, set)
      values.offset = set === undefined ? more : more + values.offset
      return made
    }
    const asked = (one: number) =>
      filter.conditions.length === 0 ? undefined : roads.allowed(filter, () => values.members(one))
    const [first, last] = direction === ONWARD ? [asked(node), within] : [within, undefined]
    const before = narrow(node, 0, first)
    const start = values.offset
    const made = values.along(relation, before, direction)
    const after = narrow(made, start + values.offset, last)
    return direction === ONWARD ? after : narrow(after, values.offset, asked(after))
  }
}
