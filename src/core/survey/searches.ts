import { beatOf } from '../base/address'
import type { LinkedStory } from '../story/linked'
import { evidenceOf, explicitExploration } from './explicit/explicit-exploration'
import { Routes } from './explicit/routes'
import { BYTES_BESIDE_SETS, Search, type SearchLimits, type SearchOptions } from './explicit/search'
import type { Evidence, Exploration } from './findings/exploration'
import type { Followed } from './interpreter/condition-compiler'
import type { Witness } from './interpreter/events'
import type { Figures } from './result'
import { eachPart } from './summaries/beat-parts'
import { rangedEntries } from './summaries/ranged-entries'
import { turnPlan } from './summaries/turn-plan'
import type { DiagramLimits } from './symbolic/diagrams/node-table'
import type { Passed } from './symbolic/set-bearings'
import type { SymbolicSearch } from './symbolic/symbolic-search'
import { SymbolicSurvey } from './symbolic/symbolic-survey'

export interface SurveyOptions {
  /** Off only in tests, to hold the reductions against the plain search. */
  readonly liveness?: boolean
  /**
   * Which routes the answer gives: `ends`, those to endings and stages and of findings; `all`, to beats and choices too;
   * `none`, only how long they are, as in a long story they are long and many. Each is worked out when it is read.
   */
  readonly routes?: 'ends' | 'all' | 'none'
  /** How often a beat is looked at before code is written for it; for tests. */
  readonly hot?: number
  /** After how many states they are looked at in sets too; at 0, only so. */
  readonly explicit?: number
  /** From what size on other ways are gone, and how many sets there may be; for tests. */
  readonly limits?: SearchLimits & DiagramLimits
}

/** States expanded between two looks at the budget. */
const STRIDE = 2048
/** After so many states they are looked at in sets too, each search having about half of the time, until one of them comes to the end. */
const EXPLICIT = 1_000_000
/** The same where more than a share of them still wait to be looked at. */
const EXPLICIT_OPEN = 300_000
const OPEN_WAITING = 0.3
/** The same where there is no end in sight: states of more than so many bits, of which more than a share still wait to be looked at. */
const EXPLICIT_WIDE = 20_000
/** The same by what transitions cost. */
const COST_WIDE = 300_000
const WIDE_BITS = 32
const WIDE_WAITING = 0.8
/** Transitions that are gone through while sets are put together once; where there is no end in sight sets have most of the time, and where states are large and many wait, more of it. */
const FOR_ONE_SET = 5
const FOR_ONE_SET_OPEN = 1
const FOR_ONE_SET_WIDE = 0.25

/** What can't change where the story goes and is followed alone: an entry that nothing reads, or the turns of one beat. */
type Alone = { readonly entry: number } | { readonly turns: readonly number[] }

interface Aside {
  readonly of: Alone
  readonly search: Search
  readonly evidence: Evidence
}

/**
 * The searches of a survey, and which of them goes on. A counter that nothing reads can
 * not change where the story goes, so in the main search it would only multiply the states; each
 * such counter is followed in a search of its own, and their states add up instead; lines that come in turn and do
 * nothing likewise.
 */
export class Searches {
  readonly search: Search
  readonly routes: Routes
  protected readonly asides: Aside[] = []
  private readonly alone: readonly Alone[]
  private readonly followed: Followed
  private readonly explicit: Evidence
  /** Begun where there are many states. */
  private symbolic: SymbolicSurvey | undefined
  /** Transitions that had been gone through when it was. */
  private before = 0

  constructor(
    readonly story: LinkedStory,
    protected readonly options: SurveyOptions = {},
    /** The survey of the story as it was before an edit: what the edit can't have changed is taken from there, and it can be asked nothing more. */
    before?: Searches,
  ) {
    const liveness = options.liveness ?? true
    const { read, unread } = rangedEntries(story, before?.story)
    const overruns = new Set(liveness ? read : [...read, ...unread])
    const plan = turnPlan(story)
    const turns = liveness ? plan.main : new Set(story.turnGroups.keys())
    this.followed = { overruns, turns }
    this.alone = liveness ? [...unread.map((entry) => ({ entry })), ...plan.aside.map((own) => ({ turns: own }))] : []
    this.search = new Search(
      story,
      {
        observed: { overruns, turns, unsetTexts: true, quests: true, promises: true, keep: [] },
        liveness,
        ...this.searchOptions,
      },
      before?.search,
    )
    this.routes = new Routes(this.search)
    this.explicit = evidenceOf(this.search, this.routes)
  }

  /** States looked at or waiting, and those waiting, in all searches so far. */
  get progress(): { readonly states: number; readonly waiting: number; readonly bytes: number } {
    const all = [this.search, ...this.asides.map(({ search }) => search)]
    const sum = (of: (search: Search) => number) => all.reduce((total, search) => total + of(search), 0)
    return {
      states: sum((search) => search.states),
      waiting: sum((search) => search.states - search.expanded),
      bytes: sum((search) => search.bytes) + (this.symbolic?.search.bytes ?? 0),
    }
  }

  /** Looks at more states; true when all have been looked at. */
  advance(states = STRIDE): boolean {
    if (!this.isDecided) {
      const sets = this.setsInTurn()
      if (sets === undefined) this.search.advance(states)
      else sets.advance()
      return this.isDecided && this.alone.length === 0
    }
    let last = this.asides.at(-1)
    if (last === undefined || last.search.done) {
      const of = this.alone[this.asides.length]
      if (of === undefined) return true
      last = this.follow(of)
      this.asides.push(last)
    }
    if (last.search.advance(states) && 'turns' in last.of) this.adopt(last.of.turns, last.evidence)
    return this.isDone
  }

  private follow(of: Alone): Aside {
    const { main } = turnPlan(this.story)
    const search = new Search(this.story, {
      observed: {
        overruns: new Set('entry' in of ? [of.entry] : []),
        turns: 'turns' in of ? new Set([...main, ...of.turns]) : main,
        unsetTexts: 'turns' in of,
        quests: false,
        promises: false,
        keep: [],
      },
      ...this.searchOptions,
    })
    return { of, search, evidence: evidenceOf(search, new Routes(search)) }
  }

  /** What was seen of groups in turn that were followed alone is taken for seen. */
  private adopt(groups: readonly number[], seen: Evidence): void {
    const { events } = this.evidence
    const take = (number: number, witness: Witness) =>
      events.adopt(number, { decisions: seen.decisionsOf(witness), route: () => seen.routeOf(witness) })
    for (const group of groups) {
      const { address } = this.story.turnGroups[group]!
      const isIn = (part: string) => part === address || part.startsWith(`${address}.turn`)
      eachPart(this.story.beats[this.story.beatOf.get(beatOf(address)!)!]!, (_, part) => {
        const witness = isIn(part) ? seen.events.witnessOfPart(part) : undefined
        if (witness !== undefined) take(events.part(part), witness)
        if (isIn(part)) events.adoptOutcomes(part, seen.events.outcomesOf(part))
      })
      for (const { key, witness } of seen.events.occurrencesOf('unset'))
        if (isIn(key[1]!)) take(events.number('unset', ...key), witness)
    }
  }

  private get searchOptions(): Pick<SearchOptions, 'hot' | 'limits'> {
    const { hot, limits } = this.options
    return { ...(hot === undefined ? {} : { hot }), limits }
  }

  /** Whether it was decided by sets of states. */
  get isInSets(): boolean {
    return !this.search.done && this.isDecided
  }

  /** The search over sets of states, if it is to be carried on next. */
  private setsInTurn(): SymbolicSurvey | undefined {
    const { search } = this
    const waiting = (search.states - search.expanded) / search.states
    const isLarge = search.layout.bits > WIDE_BITS
    const isWide = isLarge && waiting > WIDE_WAITING
    const isOpen = waiting > OPEN_WAITING
    const { explicit = isWide ? EXPLICIT_WIDE : isOpen ? EXPLICIT_OPEN : EXPLICIT } = this.options
    const { costOfTransition } = search
    const isEarly = search.states < explicit && !(isWide && search.transitions * costOfTransition > COST_WIDE)
    if (this.symbolic === undefined && isEarly) return undefined
    if (this.symbolic === undefined) {
      this.symbolic = new SymbolicSurvey(search, this.followed, this.options.limits)
      this.before = search.transitions
    }
    const { failed, work } = this.symbolic
    if (failed) return undefined
    const forOneSet = isWide ? FOR_ONE_SET_WIDE / costOfTransition : isLarge && isOpen ? FOR_ONE_SET_OPEN : FOR_ONE_SET
    return explicit === 0 || search.bytes > BYTES_BESIDE_SETS || forOneSet * work <= search.transitions - this.before
      ? this.symbolic
      : undefined
  }

  /** Whether all states of the story itself have been looked at, one by one or in sets. */
  protected get isDecided(): boolean {
    return this.search.done || this.symbolic?.isDecided === true
  }

  /** What can be true at a beat, of some slots, where sets of states decided and that can be told. */
  passedInSets(beat: number, slots: readonly number[]): Passed | undefined {
    return this.isInSets ? this.symbolic!.passed(beat, slots) : undefined
  }

  /** The search over sets of states, where it decided. */
  get inSets(): SymbolicSearch | undefined {
    return this.isInSets ? this.symbolic!.search : undefined
  }

  /** What was seen by the search that came to the end, if one did. */
  get evidence(): Evidence {
    return this.isInSets ? this.symbolic!.search : this.explicit
  }

  protected get isDone(): boolean {
    return this.isDecided && this.asides.length === this.alone.length && this.asides.every(({ search }) => search.done)
  }

  /** By the search that came to the end; as far as the search over single states came where none did. */
  protected get exploration(): Exploration {
    return (this.isInSets ? this.symbolic!.exploration : undefined) ?? explicitExploration(this.search, this.routes)
  }

  protected get figures(): Figures {
    const { states: looked, bytes } = this.progress
    const states = this.isInSets ? looked - this.search.states + this.symbolic!.search.states : looked
    return { states, transitions: this.search.transitions, bits: this.search.layout.bits, bytes }
  }

  /** Addresses of the groups in turn whose turns are not decided yet. */
  protected get pendingTurns(): string[] {
    return this.alone.flatMap((of, at) =>
      'turns' in of && this.asides[at]?.search.done !== true
        ? of.turns.map((group) => this.story.turnGroups[group]!.address)
        : [],
    )
  }
}
