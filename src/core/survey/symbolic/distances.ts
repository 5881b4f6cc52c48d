import type { Diagrams } from './diagrams/diagrams'
import type { EdgeImages } from './diagrams/edge-images'
import type { Valued } from './diagrams/edge-values'
import { EMPTY } from './diagrams/node-table'
import type { Relation } from './diagrams/relation'
import type { Level } from './state-sets'

/** Those of some states that are nearest, all of them as near. */
export interface Near {
  /** In decisions. */
  readonly distance: number
  /** Grows with each decision and each change of what is given on the way: a way back to the first goes by ever smaller ones. */
  readonly step: number
  readonly set: number
}

/** How near states are, by where they rest, to where one began, or to what one wants to come to. */
export interface Distances {
  /** The nearest of some states of a location; undefined where none of them has a distance, or one below what is asked. */
  nearest(location: number, set: number, below?: number): Near | undefined
  /** The same of those from which a relation goes, which `set` gives. */
  nearestBefore(location: number, relation: Relation, set: () => number, below?: number): Near | undefined
  /** How near one state of a location is, told by the values of its variables in order; undefined where it has no distance. */
  of(location: number, values: readonly number[]): number | undefined
  /** Of some states of a location, those for which this distance and another, taken together, are the least. */
  through(on: Distances, location: number, set: number): Pick<Near, 'distance' | 'set'> | undefined
}

/** Distances as levels of states that are as near as one another. */
export class Layers implements Distances {
  /** By location: its levels, nearest first. */
  private readonly at = new Map<number, { readonly set: number; readonly distance: number; readonly step: number }[]>()

  constructor(
    private readonly diagrams: Diagrams,
    levels: readonly Level[],
  ) {
    for (const [step, { sets, distance }] of levels.entries())
      for (const [location, set] of sets) {
        const known = this.at.get(location)
        if (known === undefined) this.at.set(location, [{ set, distance, step }])
        else known.push({ set, distance, step })
      }
  }

  nearest(location: number, set: number, below = Infinity): Near | undefined {
    if (set === EMPTY) return undefined
    for (const one of this.at.get(location) ?? []) {
      if (one.distance >= below) return undefined
      const both = this.diagrams.both(one.set, set)
      if (both !== EMPTY) return { ...one, set: both }
    }
    return undefined
  }

  nearestBefore(location: number, _: Relation, set: () => number, below?: number): Near | undefined {
    return this.nearest(location, set(), below)
  }

  of(location: number, values: readonly number[]): number | undefined {
    return this.at.get(location)?.find(({ set }) => this.diagrams.has(set, values))?.distance
  }

  through(on: Distances, location: number, set: number): Pick<Near, 'distance' | 'set'> | undefined {
    let best: Pick<Near, 'distance' | 'set'> | undefined
    for (const one of this.at.get(location) ?? []) {
      const below = best === undefined ? Infinity : best.distance - one.distance
      if (below <= 0) break
      const left = on.nearest(location, this.diagrams.both(one.set, set), below)
      if (left !== undefined) best = { distance: one.distance + left.distance, set: left.set }
    }
    return best
  }
}

/** Distances as functions on the states of each location; nothing given changes on the way. */
export class EdgeDistances implements Distances {
  constructor(
    private readonly values: EdgeImages,
    private readonly at: ReadonlyMap<number, Valued>,
  ) {}

  nearest(location: number, set: number, below = Infinity): Near | undefined {
    const here = this.at.get(location)
    if (here === undefined) return undefined
    return this.near(here, this.values.least(here.node, set), () => set, below)
  }

  nearestBefore(location: number, relation: Relation, set: () => number, below = Infinity): Near | undefined {
    const here = this.at.get(location)
    return here && this.near(here, this.values.leastBefore(relation, here.node), set, below)
  }

  private near(
    { node, offset }: Valued,
    least: number | undefined,
    set: () => number,
    below: number,
  ): Near | undefined {
    if (least === undefined || offset + least >= below) return undefined
    const { values } = this
    // of most nobody asks which it is
    return {
      distance: offset + least,
      step: offset + least,
      get set() {
        return values.nearest(node, set())
      },
    }
  }

  of(location: number, values: readonly number[]): number | undefined {
    const here = this.at.get(location)
    return here && this.values.of(here, values)
  }

  through(on: Distances, location: number, set: number): Pick<Near, 'distance' | 'set'> | undefined {
    if (!(on instanceof EdgeDistances)) throw new Error('internal: distances of two kinds')
    const [here, there] = [this.at.get(location), on.at.get(location)]
    if (here === undefined || there === undefined) return undefined
    const { values } = this
    const { node, offset } = values.restricted(here, set)
    const least = values.leastSum(node, there.node)
    if (least === undefined) return undefined
    return { distance: offset + there.offset + least, set: values.nearestSum(node, there.node) }
  }
}
