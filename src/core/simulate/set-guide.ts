import { inOneGo } from '../base/slices'
import { openness } from '../play/choices'
import type { PlayState } from '../play/state'
import { decide } from '../play/step'
import type { LinkedBeat } from '../story/linked'
import type { RouteItem } from '../story/types'
import { EMPTY, unlessTooMuch } from '../survey/symbolic/node-table'
import type { Level } from '../survey/symbolic/state-sets'
import type { SymbolicSearch } from '../survey/symbolic/symbolic-search'
import type { Guide, Way } from './guide'
import { slotReader } from './slot-reader'

/** How far an ending is from every state, as sets of states by that distance: a playthrough is looked for in them. */
export class SetGuide implements Guide {
  distance = Infinity
  private readonly read: ReturnType<typeof slotReader>

  private constructor(
    private readonly sets: SymbolicSearch,
    private readonly levels: readonly Level[],
  ) {
    this.read = slotReader(sets.search)
  }

  /** Undefined where no route to the ending is known. */
  static to(sets: SymbolicSearch, ending: number): SetGuide | 'too much' | undefined {
    const goals = sets.ended(ending)
    if (goals.size === 0) return undefined
    const levels = inOneGo(unlessTooMuch(sets.layersTo(goals)))
    return levels === undefined ? 'too much' : new SetGuide(sets, levels)
  }

  begin(state: PlayState): void {
    this.distance = this.distanceOf(state, 0)
  }

  given(state: PlayState): void {
    this.distance = this.distanceOf(state, 0)
  }

  ways(state: PlayState): readonly Way[] {
    const { story } = this.sets
    return this.decisions(story.beats[state.at]!, state).map((decision) => {
      const next = decide(story, state, decision)
      if (!next.ok) throw new Error(`internal: what is open can't be decided: ${next.error}`)
      // one decision brings the ending no nearer than by one
      return { decision, distance: this.distanceOf(next.value, this.distance - 1) }
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

  /** Looked for from a distance on which it can't be below. */
  private distanceOf(state: PlayState, least: number): number {
    const { sets, levels } = this
    if (state.status === 'endless' || state.status === 'nowhere') return Infinity
    const isStuckAfterWord = state.status === 'stuck' && sets.story.beats[state.at]!.ask !== undefined
    const location = isStuckAfterWord ? sets.story.beats.length + state.at : state.at
    const values = sets.variablesFrom(location, this.read(state))
    const found = levels.find(
      ({ sets: at, distance }) => distance >= least && sets.diagrams.has(at.get(location) ?? EMPTY, values),
    )
    return found?.distance ?? Infinity
  }
}
