import type { Decision } from '../../story/types'
import type { Witness } from '../interpreter/events'
import type { LazyRoute } from '../findings/finding'
import type { Search } from './search'

interface Step {
  readonly from: number
  readonly decision: Decision
}

/** Turns places in the search into lists of decisions, by going from parent to parent. */
export class Routes {
  private readonly decisions = new Map<number, readonly Decision[]>()
  private readonly steps = new Map<number, Step | undefined>()

  constructor(private readonly search: Search) {}

  of(witness: Witness): Decision[] {
    if (witness.told !== undefined) return witness.told.route()
    if (witness.state === -1) return []
    const route = this.toState(witness.state)
    if (witness.pick !== -1) route.push(this.decision(witness.state, witness.pick))
    return route
  }

  /** The same when it is wanted. */
  lazyOf(witness: Witness): LazyRoute {
    return { length: this.search.decisionsOf(witness), take: () => this.of(witness) }
  }

  lazyTo(state: number): LazyRoute {
    return this.lazyOf({ state, pick: -1 })
  }

  toState(state: number): Decision[] {
    const route: Decision[] = []
    for (let step = this.stepTo(state); step !== undefined; step = this.stepTo(step.from)) route.push(step.decision)
    return route.reverse()
  }

  /** The last step of the route to a state; routes share their beginnings, so each is worked out once. */
  private stepTo(state: number): Step | undefined {
    if (!this.steps.has(state)) {
      const found = this.search.foundBy(state)
      this.steps.set(state, found && { from: found.state, decision: this.decision(found.state, found.pick) })
    }
    return this.steps.get(state)
  }

  /** The decisions that lead along a path of states. */
  along(path: readonly number[]): Decision[] {
    const route: Decision[] = []
    for (let at = 1; at < path.length; at += 1)
      route.push(this.decision(path[at - 1]!, this.pickTo(path[at - 1]!, path[at]!)))
    return route
  }

  decision(state: number, pick: number): Decision {
    let open = this.decisions.get(state)
    if (open === undefined) {
      open = this.search.decisionsIn(state)
      this.decisions.set(state, open)
    }
    return open[pick]!
  }

  private pickTo(from: number, to: number): number {
    const { search } = this
    const start = search.firstEdge(from)
    let edge = start
    while (search.successor(edge) !== to) edge += 1
    return edge - start
  }
}
