import type { Slices } from '../../base/slices'
import type { CommandGroup } from './commands'
import { EdgeDistances } from './distances'
import { EdgeImages, ONWARD, type Direction } from './diagrams/edge-images'
import type { Valued } from './diagrams/edge-values'
import { EMPTY, type DiagramLimits } from './diagrams/node-table'
import type { Sets, StateSets } from './state-sets'

/** What of a search over sets distances are worked out with. */
export type Roads = Pick<StateSets, 'conditions' | 'diagrams' | 'groupsInto' | 'groupsOf' | 'loopsOf' | 'statesOf'>

/**
 * Distances as edge-valued diagrams: from location to location until nothing gets nearer, at each of them closed under what leads
 * back to it. Where nothing changes as the game gives it.
 */
export class EdgeSearch {
  readonly values: EdgeImages

  constructor(
    private readonly roads: Roads,
    limits?: DiagramLimits,
  ) {
    this.values = new EdgeImages(roads.diagrams, limits)
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
    const narrowed = (one: Valued, set: number | undefined) => this.narrowed(one, set)
    const closed = (location: number, one: Valued, set: number | undefined) =>
      this.closed(location, one, direction, set)
    const grow = function* (location: number, one: Valued): Slices<void> {
      const set = within === undefined ? undefined : (within.get(location) ?? EMPTY)
      const more = narrowed(one, set)
      if (more.node === EMPTY) return
      const known = at.get(location)
      const all = known === undefined ? more : values.lesserOf(known, more)
      if (all.node === known?.node && all.offset === known.offset) return
      at.set(location, yield* closed(location, all, set))
      waiting.add(location)
    }
    for (const [location, set] of starts) {
      if (prepare !== undefined) yield* prepare(location)
      yield* grow(location, { node: values.zero(set), offset: 0 })
    }
    for (const location of waiting) {
      waiting.delete(location)
      for (const group of direction === ONWARD ? roads.groupsOf(location) : roads.groupsInto(location)) {
        if (roads.loopsOf(group.from).whole.has(group)) continue
        const next = direction === ONWARD ? group.to : group.from
        if (prepare !== undefined) yield* prepare(next)
        yield
        const { node, offset } = yield* values.inTurns(() => this.along(group, at.get(location)!, direction))
        yield* grow(next, { node, offset: offset + 1 })
      }
    }
    return { distances: new EdgeDistances(values, at), reached: this.members(at) }
  }

  private members(at: ReadonlyMap<number, Valued>): Sets {
    return new Map([...at].map(([location, { node }]) => [location, this.values.members(node)]))
  }

  /** A function on the states of a location with all that leads back to it. */
  private *closed(location: number, one: Valued, direction: Direction, within?: number): Slices<Valued> {
    const { roads, values } = this
    const { relation, within: open } = roads.loopsOf(location)
    const own = open ?? roads.statesOf(location)
    const all = within === undefined ? own : roads.diagrams.both(own, within)
    const { node, offset } = values.restricted(one, all)
    return values.lesserOf(one, { node: yield* values.closed(relation, node, all, direction), offset })
  }

  /** Where commands lead, or from where they do. */
  private along({ relation, filter, within }: CommandGroup, one: Valued, direction: Direction): Valued {
    const asked = (some: Valued) =>
      filter.conditions.length === 0
        ? some
        : this.narrowed(
            some,
            this.roads.conditions.allowed(filter, () => this.values.members(some.node)),
          )
    return direction === ONWARD
      ? this.narrowed(this.values.led(relation, asked(one), direction), within)
      : asked(this.values.led(relation, this.narrowed(one, within), direction))
  }

  private narrowed(one: Valued, set: number | undefined): Valued {
    return set === undefined ? one : this.values.restricted(one, set)
  }
}
