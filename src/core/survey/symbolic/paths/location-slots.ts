import type { Layout } from '../../states/layout'

/** What sets tell of states at a location, and what is known of them without. */
interface Gateway {
  readonly held: readonly number[]
  /** By slot. */
  readonly known: Int32Array
}

/**
 * Which slots sets tell at each location: those that states hold there. Besides the locations of the story there may be
 * gateways, at which nobody rests: what comes from elsewhere stands there before the story goes on with it.
 */
export class LocationSlots {
  private readonly gateways: Gateway[] = []

  constructor(
    private readonly layout: Layout,
    /** Gateways are numbered from here on. */
    private readonly locations: number,
  ) {}

  /** Adds a gateway; gives its number. */
  addGateway(held: readonly number[], known: Int32Array): number {
    return this.locations + this.gateways.push({ held, known }) - 1
  }

  isGateway(location: number): boolean {
    return location >= this.locations
  }

  private gatewayAt(location: number): Gateway | undefined {
    return this.isGateway(location) ? this.gateways[location - this.locations] : undefined
  }

  /** In no order. */
  heldAt(location: number): readonly number[] {
    return this.gatewayAt(location)?.held ?? this.layout.fieldsOf(location).map(({ slot }) => slot)
  }

  /** The value of a slot that is not told at a location. */
  knownAt(location: number, slot: number): number {
    return this.gatewayAt(location)?.known[slot] ?? this.layout.knownAt(location, slot)
  }
}
