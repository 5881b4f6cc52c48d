import type { Diagrams } from './diagrams'
import { EMPTY } from './node-table'
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
