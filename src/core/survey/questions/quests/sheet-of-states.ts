import type { Slices } from '../../../base/slices'
import type { LinkedBeat, LinkedStory } from '../../../story/linked'
import type { RouteItem } from '../../../story/types'
import type { Slot } from '../../analysis/slots'
import { Routes } from '../../explicit/routes'
import type { Search } from '../../explicit/search'
import type { Chosen } from '../../interpreter/givens'
import type { ChoiceProgram } from '../../interpreter/programs'
import { NO_STATE } from '../../states/state-set'
import { Sheet, TALK_DEPTH, type Axis, type CallSheet } from './sheet'

/** States that are looked at between two looks at the time. */
const STRIDE = 512

/** A decision in a state. */
interface Occasion {
  readonly state: number
  readonly pick: number
}

/** A call sheet from states looked at one by one, all of which were found. */
export class SheetOfStates extends Sheet<Occasion> {
  private readonly routes: Routes
  private readonly talks = new Map<number, readonly string[]>()
  private readonly programs = new Map<number, ChoiceProgram>()

  constructor(
    story: LinkedStory,
    axis: Axis,
    quests: readonly number[],
    private readonly search: Search,
  ) {
    super(story, axis, quests, search.slots, search.events)
    this.routes = new Routes(search)
  }

  *gather(stop: () => boolean): Slices<CallSheet | undefined> {
    for (let from = 0; from < this.search.expanded; from += STRIDE) {
      if (stop()) return undefined
      this.gatherFrom(from, Math.min(from + STRIDE, this.search.expanded))
      yield
    }
    return this.tell()
  }

  protected routeTo([first]: readonly Occasion[]): RouteItem[] {
    return this.routes.of(first!)
  }

  /** States are numbered by how near they are. */
  protected keep(occasions: Occasion[], one: Occasion): void {
    if (occasions.length === 0) occasions.push(one)
  }

  private gatherFrom(from: number, to: number): void {
    const { search, story } = this
    search.events.recording((shows) => {
      for (let state = from; state < to; state += 1) {
        const beat = story.beats[search.beatOf(state)]!
        search.load(state)
        const column = this.columnNow()
        this.reached[column] = true
        if (!beat.place && !beat.choices.some(({ who }) => who !== undefined)) continue
        const legs = search.legsIn(state)
        search.load(state)
        if (beat.place) this.seeWhere(beat, state, column)
        legs.forEach(({ item, given }, pick) => {
          if (item === undefined || !('choice' in item)) return
          const choice = story.choices[story.choiceOf.get(item.choice)!]!
          if (choice.who === undefined) return
          search.load(state)
          const values = this.candidatesOf(choice).map((slot) => this.valuesAt(slot, given))
          const shown = shows(() => search.replayPick(state, pick))
          this.note({
            choice,
            column,
            shown,
            states: 1,
            values,
            talk: () => {
              const next = search.successor(search.firstEdge(state) + pick)
              return next === NO_STATE || search.beatOf(next) === choice.beat ? [] : this.talkFrom(next, choice.beat)
            },
            occasion: { state, pick },
          })
        })
      }
    })
  }

  /** What a slot may hold as something is decided in the loaded state: what the game may set anew, and was not asked for, anything. */
  private valuesAt({ index, ...slot }: Slot, given: readonly Chosen[]): readonly number[] {
    const chosen = given.find(([own]) => own === index)
    if (chosen !== undefined) return [chosen[1]]
    const { givens, values } = this.search
    return slot.kind === 'entry' && givens.plan.free.includes(index) ? slot.given!.options : [values[index]!]
  }

  private columnNow(): number {
    const { search, story, quests } = this
    return quests.reduce(
      (column, quest) => column * story.quests[quest]!.stages.length + search.values[search.slots.ofQuest[quest]!]!,
      0,
    )
  }

  private talkFrom(first: number, place: number): readonly string[] {
    const known = this.talks.get(first)
    if (known !== undefined) return known
    const { search, story } = this
    const starts = new Set<string>()
    const seen = new Set([first])
    let edge = [first]
    for (let depth = 0; depth < TALK_DEPTH && edge.length > 0; depth += 1) {
      const further: number[] = []
      for (const state of edge) {
        const beat = search.beatOf(state)
        if (state >= search.expanded || story.beats[beat]!.place || beat === place) continue
        const start = search.firstEdge(state)
        search.decisionsIn(state).forEach((decision, pick) => {
          if ('choice' in decision && this.setsStage(decision.choice)) starts.add(decision.choice)
          const next = search.successor(start + pick)
          if (next === NO_STATE || seen.has(next)) return
          seen.add(next)
          further.push(next)
        })
      }
      edge = further
    }
    const talk = [...starts]
    this.talks.set(first, talk)
    return talk
  }

  /** Who can be approached here, who at another place in the same state, and whom a quest needs that can be nowhere. */
  private seeWhere(beat: LinkedBeat, state: number, column: number): void {
    const { givens } = this.search
    if (!givens.canChange) return this.seeNow(beat, state, column)
    // whatever the game gives
    givens.every(
      () => void this.search.load(state),
      () => this.seeNow(beat, state, column),
      () => undefined,
    )
  }

  private seeNow(beat: LinkedBeat, state: number, column: number): void {
    const { search, story, whereabouts } = this
    const { machine } = search
    const seen = { nearness: state, route: () => this.routes.toState(state) }
    const openAt = new Map<string, string>()
    for (const choice of whereabouts.encounters) {
      const at = story.beats[choice.beat]!
      if (!at.place) continue
      const program = this.programOf(choice.index, choice.beat, choice.address)
      const open = search.events.quietly(() => (program.when?.() ?? true) && (at !== beat || machine.isOpen(program)))
      if (at === beat) whereabouts.note(choice.address, column, open)
      if (!open) continue
      const other = openAt.get(choice.who!)
      if (other === undefined) openAt.set(choice.who!, at.address)
      else whereabouts.noteTwo(choice.who!, [other, at.address], seen)
    }
    for (const person of whereabouts.neededAt(column))
      if (!openAt.has(person)) whereabouts.noteNowhere(person, column, seen)
  }

  private programOf(index: number, beat: number, address: string): ChoiceProgram {
    let program = this.programs.get(index)
    if (program === undefined)
      this.programs.set(
        index,
        (program = this.search.programs.of(beat).choices.find((choice) => choice.address === address)!),
      )
    return program
  }
}
