import type { Share } from '../findings/exploration'
import type { RouteItem } from '../../story/types'
import { NO_STATE } from '../states/state-set'
import { prospectsOfEndings, type Prospects } from '../explicit/prospects'
import { slotValue } from '../states/slot-value'
import type { Slot } from '../analysis/slots'
import type { Survey } from '../survey'
import type { Passed } from '../symbolic/set-bearings'

export interface EntryValues {
  readonly of: 'entry' | 'quest'
  readonly id: string
  /** The values that really occur, in order; undefined: nothing asks for them from here on, so they were not followed. */
  readonly values: readonly (boolean | number | string)[] | undefined
  /** A text entry can also hold any word that the story does not name. */
  readonly anyWord?: boolean
  /** The game gives it: it may be anything. */
  readonly isGiven?: true
}

/** What can be true at a beat, and what can still come. */
export interface Bearing {
  readonly address: string
  readonly reached: { readonly decisions: number; readonly route: readonly RouteItem[] } | undefined
  /** After the beat's lines, when its choices, its word or its roads on come. */
  readonly values: readonly EntryValues[]
  readonly endings: Readonly<Record<string, Share>>
  /** False when the survey was cut short: more values and endings may be possible. */
  readonly exact: boolean
}

const GROUP = 32

/** Bearings of one finished survey. They are worked out when asked for: the transitions that pass the beat are played again. */
export class Bearings {
  private readonly endings: Prospects[] = []

  constructor(private readonly survey: Survey) {}

  of(address: string): Bearing | undefined {
    const { story, search, evidence: explored } = this.survey
    const beat = story.beatOf.get(address)
    if (beat === undefined) return undefined
    const witness = explored.events.witnessOfPart(address)
    const { liveness, slots } = search
    const live = liveness.afterLines(beat)
    const inSets = this.survey.passedInSets(beat, live)
    const passed = inSets ?? this.passed(beat, live)
    const named = (of: 'entry' | 'quest', id: string, slot: Slot): EntryValues => {
      if (slot.kind === 'entry' && slot.given !== undefined) return { of, id, values: undefined, isGiven: true }
      const seen = passed.values.get(slot.index)
      const named = slot.kind === 'entry' && slot.words !== undefined ? slot.words.others : Infinity
      const values =
        seen &&
        [...seen]
          .filter((value) => value < named)
          .sort((a, b) => a - b)
          .map((value) => slotValue(story, slot, value))
          .sort(byValue)
      return {
        of,
        id,
        values,
        ...(seen !== undefined && [...seen].some((value) => value >= named) ? { anyWord: true } : {}),
      }
    }
    const relevant = story.entries.filter((entry) => entry.scene === -1 || entry.scene === story.beats[beat]!.scene)
    return {
      address,
      reached: witness && { decisions: explored.decisionsOf(witness), route: explored.routeOf(witness) },
      values: [
        ...relevant.map((entry) => named('entry', entry.id, slots.all[slots.ofEntry[entry.index]!]!)),
        ...story.quests.map((quest) => named('quest', quest.id, slots.all[slots.ofQuest[quest.index]!]!)),
      ],
      endings: Object.fromEntries(story.endings.map((ending, index) => [ending.id, passed.endings[index]!])),
      exact: search.done || inSets !== undefined,
    }
  }

  /** What is so at a beat in the states that were looked at one by one. */
  private passed(beat: number, live: readonly number[]): Passed {
    const { search, story } = this.survey
    const values = new Map(live.map((slot) => [slot, new Set<number>()]))
    const outcomes: number[] = []
    this.pass(
      beat,
      () => {
        for (const [slot, seen] of values) seen.add(search.values[slot]!)
      },
      outcomes,
    )
    return { values, endings: story.endings.map((_, ending) => this.share(ending, outcomes)) }
  }

  /** Plays again every run that shows the beat's lines; `outcomes` gets the state that each comes to, NO_STATE for none. */
  private pass(beat: number, hear: () => void, outcomes: number[]): void {
    const { search } = this.survey
    const { machine, programs } = search
    const program = programs.of(beat)
    if (program.ending !== -1 || program.asks || program.onward.length === 0) {
      // It always rests here, so the states that rest here tell all.
      for (let state = 0; state < search.states; state += 1) {
        if (search.locationOf(state) !== beat) continue
        search.load(state)
        hear()
        outcomes.push(state)
      }
      return
    }
    let passed = false
    const note = () => {
      passed = true
      hear()
    }
    const playAll = () => {
      search.eachBeginning(
        () => (passed = false),
        (state) => passed && outcomes.push(state),
      )
      for (let state = 0; state < search.expanded; state += 1) {
        const start = search.firstEdge(state)
        search.replayFrom(
          state,
          () => (passed = false),
          (pick) => passed && outcomes.push(search.successor(start + pick)),
        )
      }
    }
    machine.watching(beat, note, () => search.events.quietly(playAll))
  }

  private share(ending: number, outcomes: readonly number[]): Share {
    const group = Math.floor(ending / GROUP)
    const outlook = (this.endings[group] ??= this.prospectsOf(group))
    let some = false
    let all = outcomes.length > 0
    for (const state of outcomes) {
      const can = state !== NO_STATE && outlook.must(state, ending % GROUP)
      some ||= can
      all &&= can
    }
    return all ? 'all' : some ? 'some' : 'none'
  }

  private prospectsOf(group: number): Prospects {
    const { story, search } = this.survey
    return prospectsOfEndings(search, group * GROUP, Math.min(GROUP, story.endings.length - group * GROUP))
  }
}

function byValue(a: boolean | number | string, b: boolean | number | string): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : 0
}
