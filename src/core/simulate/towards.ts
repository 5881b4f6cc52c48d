import { lastAtMost } from '../base/last-at-most'
import type { PlayState } from '../play/state'
import type { RouteItem } from '../story/types'
import type { Chosen } from '../survey/interpreter/givens'
import { slotValue } from '../survey/states/slot-value'
import { NO_STATE } from '../survey/states/state-set'
import { classStarts } from '../survey/summaries/given-classes'
import type { Survey } from '../survey/survey'

/** One decision on the survey's map, and the state that it leads to. */
export interface Way {
  readonly decision: RouteItem
  readonly to: number
}

/** The same with what the game has to give for it; without a decision where just that leads on. */
interface GivenWay {
  readonly decision: RouteItem | undefined
  readonly given: readonly Chosen[]
  readonly to: number
}

/** How far an ending is from every state, read off a finished survey. */
export class Towards {
  private readonly distances: Int32Array
  private readonly known = new Map<number, readonly GivenWay[]>()
  /** Where the story first rests, by what the game gives for it. */
  private readonly beginnings: { readonly state: number; readonly given: readonly Chosen[] }[] = []
  /** By slot of a number that the game gives: where values begin that the story tells apart. */
  private readonly starts = new Map<number, readonly number[] | undefined>()

  private constructor(
    private readonly survey: Survey,
    goals: readonly number[],
  ) {
    const { search } = survey
    this.distances = search.backward.distancesTo(goals).distances
    search.events.quietly(() =>
      search.eachBeginning(
        () => undefined,
        (state) => this.beginnings.push({ state, given: search.givens.chosen() }),
      ),
    )
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

  /** The state in which a playthrough begins. */
  beginning(state: PlayState): number {
    return this.beginnings.find(({ given }) => this.isGiven(given, state))?.state ?? NO_STATE
  }

  /** Where a state leads as the game gives something else, or the state itself. */
  changed(at: number, state: PlayState): number {
    const way = this.waysFrom(at).find(({ decision, given }) => decision === undefined && this.isGiven(given, state))
    return way?.to ?? at
  }

  /** The open decisions of a state, in the order of the document; none where the survey did not go. */
  ways(at: number, state: PlayState): readonly Way[] {
    return this.waysFrom(at).flatMap(({ decision, given, to }) =>
      decision !== undefined && this.isGiven(given, state) ? [{ decision, to }] : [],
    )
  }

  private waysFrom(state: number): readonly GivenWay[] {
    const { search } = this.survey
    if (state === NO_STATE || state >= search.expanded) return []
    let ways = this.known.get(state)
    if (ways === undefined) {
      const start = search.firstEdge(state)
      ways = search
        .legsIn(state)
        .map(({ item, given }, pick) => ({ decision: item, given, to: search.successor(start + pick) }))
      this.known.set(state, ways)
    }
    return ways
  }

  /** Whether a playthrough has been given what is asked for, as far as the story tells values apart. */
  private isGiven(given: readonly Chosen[], { entries }: PlayState): boolean {
    const { search } = this.survey
    return given.every(([index, value]) => {
      const slot = search.slots.all[index]!
      if (slot.kind !== 'entry') return true
      const entry = search.story.entries[slot.entry]!
      const wanted = slotValue(search.story, slot, value)
      const actual = entries[slot.entry]!
      if (slot.words !== undefined && !slot.words.values.includes(String(actual)))
        return slot.words.values.indexOf(String(wanted)) >= slot.words.others
      if (slot.wide === undefined) return wanted === actual
      if (!this.starts.has(index)) this.starts.set(index, classStarts(search.story, entry))
      const starts = this.starts.get(index)
      const classOf = (number: number) => (starts === undefined ? number : lastAtMost(starts, starts.length, number))
      return classOf(Number(wanted)) === classOf(Number(actual))
    })
  }
}
