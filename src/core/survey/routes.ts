import type { Decision } from '../story/types'
import type { Witness } from './marks'
import type { Search } from './explicit/search'

/** Turns places in the search into lists of decisions, by going from parent to parent. */
export class Routes {
  private readonly decisions = new Map<number, readonly Decision[]>()

  constructor(private readonly search: Search) {}

  of(witness: Witness): Decision[] {
    if (witness.state === -1) return []
    const route = this.toState(witness.state)
    if (witness.pick !== -1) route.push(this.decision(witness.state, witness.pick))
    return route
  }

  toState(state: number): Decision[] {
    const { search } = this
    const path = [state]
    for (let at = search.foundBy(state); at !== undefined; at = search.foundBy(at.state)) path.push(at.state)
    return this.along(path.reverse())
  }

  /** The decisions that lead along a path of states. */
  along(path: readonly number[]): Decision[] {
    const route: Decision[] = []
    for (let at = 1; at < path.length; at += 1) route.push(this.decision(path[at - 1]!, this.pickTo(path[at - 1]!, path[at]!)))
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
    const { rows, edges } = this.search
    const start = rows.items[from]!
    let edge = start
    while (edges.items[edge] !== to) edge += 1
    return edge - start
  }
}
