import { lastAtMost } from '../base/last-at-most'
import type { PlayState } from '../play/state'
import type { RouteItem } from '../story/types'
import type { Chosen } from '../survey/interpreter/givens'
import { slotValue } from '../survey/states/slot-value'
import { NO_STATE } from '../survey/states/state-set'
import { classStarts } from '../survey/summaries/given-classes'
import type { Survey } from '../survey/survey'
import type { Guide, Way } from './guide'

/** An open decision on the survey's map, and the state that it leads to. */
interface StateWay extends Way {
  readonly to: number
}

/** One decision with what the game has to give for it; without a decision where just that leads on. */
interface GivenWay {
  readonly decision: RouteItem | undefined
  readonly given: readonly Chosen[]
  readonly to: number
}

/** How far an ending is from every single state; a playthrough is followed from state to state. */
export class StateGuide implements Guide {
  private at = NO_STATE
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

  /** Undefined where no route to the ending is known. */
  static to(survey: Survey, ending: number): StateGuide | undefined {
    const { search } = survey
    const goals: number[] = []
    for (let state = 0; state < search.states; state += 1)
      if (search.loadResting(state).ending === ending) goals.push(state)
    return goals.length === 0 ? undefined : new StateGuide(survey, goals)
  }

  get distance(): number {
    return this.distanceFrom(this.at)
  }

  begin(state: PlayState): void {
    this.at = this.beginnings.find(({ given }) => this.isGiven(given, state))?.state ?? NO_STATE
  }

  given(state: PlayState): void {
    const way = this.waysFrom(this.at).find(
      ({ decision, given }) => decision === undefined && this.isGiven(given, state),
    )
    if (way !== undefined) this.at = way.to
  }

  ways(state: PlayState): readonly StateWay[] {
    return this.waysFrom(this.at).flatMap(({ decision, given, to }) =>
      decision !== undefined && this.isGiven(given, state) ? [{ decision, to, distance: this.distanceFrom(to) }] : [],
    )
  }

  take({ to }: StateWay): void {
    this.at = to
  }

  private distanceFrom(state: number): number {
    const found = state === NO_STATE ? -1 : this.distances[state]!
    return found === -1 ? Infinity : found
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
