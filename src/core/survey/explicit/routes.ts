import { isDecision, type EntryValue, type RouteItem } from '../../story/types'
import type { Chosen } from '../interpreter/givens'
import type { Witness } from '../interpreter/events'
import type { LazyRoute } from '../findings/finding'
import type { Search } from './search'
import { legNumbered, type Leg } from './transition-player'

interface Step {
  readonly from: number
  readonly leg: Leg
}

/** Turns places in the search into routes, by going from parent to parent. */
export class Routes {
  private readonly legs = new Map<number, readonly Leg[]>()
  private readonly steps = new Map<number, Step | undefined>()

  constructor(private readonly search: Search) {}

  of({ state, pick, given = [], told }: Witness): RouteItem[] {
    if (told !== undefined) return told.route()
    if (state === -1) return this.told(given, [])
    if (pick !== -1) return this.after(state, [this.leg(state, pick)])
    return given.length === 0 ? this.toState(state) : this.after(state, [{ item: undefined, given }])
  }

  /** The same when it is wanted. */
  lazyOf(witness: Witness): LazyRoute {
    return { length: this.search.decisionsOf(witness), take: () => this.of(witness) }
  }

  lazyTo(state: number): LazyRoute {
    return this.lazyOf({ state, pick: -1 })
  }

  toState(state: number): RouteItem[] {
    return this.after(state, [])
  }

  /** How the story begins with what the game gives. */
  begun(given: readonly Chosen[]): RouteItem[] {
    return this.told(given, [])
  }

  /** To the first of some states, and along them. */
  along(path: readonly number[]): RouteItem[] {
    const legs: Leg[] = []
    for (let at = 1; at < path.length; at += 1)
      legs.push(this.leg(path[at - 1]!, this.pickTo(path[at - 1]!, path[at]!)))
    return this.after(path[0]!, legs)
  }

  /** From the beginning, with what is given for it, by transitions of states that follow one another. */
  byPicks(given: readonly Chosen[], picks: readonly { readonly state: number; readonly pick: number }[]): RouteItem[] {
    return this.told(
      given,
      picks.map(({ state, pick }) => this.leg(state, pick)),
    )
  }

  /** What is decided in a state, or changed. */
  decision(state: number, pick: number): RouteItem {
    const { item, given } = this.leg(state, pick)
    return item ?? this.search.givenItem(given)
  }

  private after(state: number, last: readonly Leg[]): RouteItem[] {
    const legs: Leg[] = []
    let first = state
    for (let step = this.stepTo(first); step !== undefined; step = this.stepTo(first)) {
      legs.push(step.leg)
      first = step.from
    }
    const { beginnings } = this.search
    const given = beginnings.find((one) => one.state === first)?.given ?? []
    return this.told(given, [...legs.reverse(), ...last])
  }

  /** The last step of the route to a state; routes share their beginnings, so each is worked out once. */
  private stepTo(state: number): Step | undefined {
    if (!this.steps.has(state)) {
      const found = this.search.foundBy(state)
      this.steps.set(state, found && { from: found.state, leg: this.leg(found.state, found.pick) })
    }
    return this.steps.get(state)
  }

  private leg(state: number, pick: number): Leg {
    let legs = this.legs.get(state)
    if (legs === undefined) {
      legs = this.search.legsIn(state)
      this.legs.set(state, legs)
    }
    return legNumbered(legs, pick)
  }

  private pickTo(from: number, to: number): number {
    const { search } = this
    const start = search.firstEdge(from)
    let edge = start
    while (search.successor(edge) !== to) edge += 1
    return edge - start
  }

  private told(begun: readonly Chosen[], legs: readonly Leg[]): RouteItem[] {
    return tellRoute(
      begun,
      legs,
      (given) => this.search.givenItem(given).given,
      (slot) => this.search.slots.all[slot]!.initial,
    )
  }
}

/**
 * Legs as a route: what the game gives is said where it changes something, and before the story begins where that
 * makes no difference until then.
 */
export function tellRoute(
  begun: readonly Chosen[],
  legs: readonly Leg[],
  told: (given: readonly Chosen[]) => Record<string, EntryValue>,
  initial: (slot: number) => number,
): RouteItem[] {
  const now = new Map<number, number>()
  const differing = (given: readonly Chosen[]) =>
    given.filter(([slot, value]) => (now.get(slot) ?? initial(slot)) !== value)
  const first = differing(begun)
  const asked = new Set(begun.map(([slot]) => slot))
  for (const [slot, value] of first) now.set(slot, value)
  const route: RouteItem[] = []
  for (const { item, given } of legs) {
    const changed = differing(given)
    const before = route.length === 0 && item !== undefined && changed.every(([slot]) => !asked.has(slot))
    if (before) first.push(...changed)
    else if (changed.length > 0) route.push({ given: told(changed) })
    for (const [slot, value] of changed) now.set(slot, value)
    if (item !== undefined) route.push(item)
  }
  if (first.length > 0) return [{ given: told(first) }, ...route]
  return route[0] !== undefined && !isDecision(route[0]) ? [{ given: {} }, ...route] : route
}
