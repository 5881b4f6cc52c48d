import { inOneGo } from '../base/slices'
import { openness } from '../play/choices'
import type { PlayState } from '../play/state'
import { decide } from '../play/step'
import type { LinkedBeat } from '../story/linked'
import type { RouteItem } from '../story/types'
import { unlessTooMuch } from '../survey/symbolic/diagrams/node-table'
import type { Distances } from '../survey/symbolic/distances'
import type { SymbolicSearch } from '../survey/symbolic/symbolic-search'
import type { Guide, Way } from './guide'
import { slotReader } from './slot-reader'

/** How far an ending is from every state, as sets of states by that distance: a playthrough is looked for in them. */
export class SetGuide implements Guide {
  distance = Infinity
  private readonly read: ReturnType<typeof slotReader>

  private constructor(
    private readonly sets: SymbolicSearch,
    private readonly distances: Distances,
  ) {
    this.read = slotReader(sets.search)
  }

  /** Undefined where no route to the ending is known. */
  static to(sets: SymbolicSearch, ending: number): SetGuide | 'too much' | undefined {
    const goals = sets.ended(ending)
    if (goals.size === 0) return undefined
    const distances = inOneGo(unlessTooMuch(sets.distancesTo(goals)))
    return distances === undefined ? 'too much' : new SetGuide(sets, distances)
  }

  begin(state: PlayState): void {
    this.distance = this.distanceOf(state)
  }

  given(state: PlayState): void {
    this.distance = this.distanceOf(state)
  }

  ways(state: PlayState): readonly Way[] {
    const { story } = this.sets
    return this.decisions(story.beats[state.at]!, state).map((decision) => {
      const next = decide(story, state, decision)
      if (!next.ok) throw new Error(`internal: what is open can't be decided: ${next.error}`)
      return { decision, distance: this.distanceOf(next.value) }
    })
  }

  take({ distance }: Way): void {
    this.distance = distance
  }

  private decisions(beat: LinkedBeat, state: PlayState): RouteItem[] {
    const { search, story } = this.sets
    if (state.status === 'choice')
      return beat.choices
        .filter((choice) => openness(story, state, choice).open)
        .map((choice) => ({ choice: choice.address }))
    const program = search.programs.of(beat.index)
    return program.typable.map((word) => ({ at: beat.address, word: search.wordOf(program, word) }))
  }

  private distanceOf(state: PlayState): number {
    const { sets, distances } = this
    if (state.status === 'endless' || state.status === 'nowhere') return Infinity
    const isStuckAfterWord = state.status === 'stuck' && sets.story.beats[state.at]!.ask !== undefined
    const location = isStuckAfterWord ? sets.story.beats.length + state.at : state.at
    return distances.of(location, sets.variablesFrom(location, this.read(state))) ?? Infinity
  }
}
