import type { RouteItem } from '../story/types'
import { NO_STATE } from '../survey/states/state-set'
import type { Survey } from '../survey/survey'

/** One decision on the survey's map, and the state that it leads to. */
export interface Way {
  readonly decision: RouteItem
  readonly to: number
}

/** How far an ending is from every state, read off a finished survey: state 0 is where the story first rests. */
export class Towards {
  private readonly distances: Int32Array
  private readonly known = new Map<number, readonly Way[]>()

  private constructor(
    private readonly survey: Survey,
    goals: readonly number[],
  ) {
    this.distances = survey.search.backward.distancesTo(goals).distances
  }

  /** Undefined where the story has no such ending, or no route to it is known. */
  static ending(survey: Survey, ending: string): Towards | undefined {
    const { search, story } = survey
    const wanted = story.endingOf.get(ending)
    if (wanted === undefined) return undefined
    const goals: number[] = []
    for (let state = 0; state < search.states; state += 1)
      if (search.loadResting(state).ending === wanted) goals.push(state)
    return goals.length === 0 ? undefined : new Towards(survey, goals)
  }

  /** The fewest decisions to the ending; Infinity where it is lost. */
  distance(state: number): number {
    const found = state === NO_STATE ? -1 : this.distances[state]!
    return found === -1 ? Infinity : found
  }

  /** The open decisions of a state, in the order of the document; none where the survey did not go. */
  ways(state: number): readonly Way[] {
    const { search } = this.survey
    if (state >= search.expanded) return []
    let ways = this.known.get(state)
    if (ways === undefined) {
      const start = search.firstEdge(state)
      ways = search.decisionsIn(state).map((decision, pick) => ({ decision, to: search.successor(start + pick) }))
      this.known.set(state, ways)
    }
    return ways
  }
}
