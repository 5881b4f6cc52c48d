import { inOneGo, type Slices } from '../base/slices'
import type { LinkedStory } from '../story/linked'
import type { RouteItem } from '../story/types'
import { Search, type SearchLimits, type SearchOptions } from './explicit/search'
import { evidenceOf, explicitExploration } from './explicit/explicit-exploration'
import { allFindings } from './findings/all'
import type { Evidence, Exploration } from './findings/exploration'
import { nameOfFinding, withRoute, type FindingKind, type Found } from './findings/finding'
import type { Witness } from './interpreter/events'
import { VERDICT, type Figures, type Reachable, type Reached, type SurveyResult, type SurveyBrief } from './result'
import { Routes } from './explicit/routes'
import type { Passed } from './symbolic/set-bearings'
import type { SymbolicSearch } from './symbolic/symbolic-search'
import type { DiagramLimits } from './symbolic/diagrams'
import { SymbolicSurvey } from './symbolic/symbolic-survey'
import { beatOf } from '../base/address'
import type { Followed } from './interpreter/compile'
import { eachPart } from './summaries/beat-parts'
import { turnPlan } from './summaries/turn-plan'
import { rangedEntries } from './summaries/ranged-entries'

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
/** The same where others want to work in between. */
const SLICE = 512
/** After so many states they are looked at in sets too, each search having about half of the time, until one of them comes to the end. */
const EXPLICIT = 1_000_000
/** The same where there is no end in sight: states of more than so many bits, of which more than a share still wait to be looked at. */
const EXPLICIT_WIDE = 20_000
const WIDE_BITS = 40
const WIDE_WAITING = 0.8
/** Transitions that are gone through while sets are put together once; where there is no end in sight sets have most of the time. */
const FOR_ONE_SET = 5
const FOR_ONE_SET_WIDE = 0.25
/** With more than this states are no longer looked at one by one while they are looked at in sets. */
const EXPLICIT_BYTES = 600_000_000

const MARK_OF = { endings: 'ending', stages: 'stage' } as const

interface Judged {
  readonly promises: SurveyResult['promises']
  readonly found: readonly Found[]
}

/** What can't change where the story goes and is followed alone: an entry that nothing reads, or the turns of one beat. */
type Alone = { readonly entry: number } | { readonly turns: readonly number[] }

interface Aside {
  readonly of: Alone
  readonly search: Search
  readonly evidence: Evidence
}

/**
 * One survey of one story, which can be carried on bit by bit. A counter that nothing reads can
 * not change where the story goes, so in the main search it would only multiply the states; each
 * such counter is followed in a search of its own, and their states add up instead; lines that come in turn and do
 * nothing likewise.
 */
export class Survey {
  readonly search: Search
  readonly routes: Routes
  private readonly asides: Aside[] = []
  private readonly alone: readonly Alone[]
  private readonly followed: Followed
  private judged: Judged | undefined
  private readonly explicit: Evidence
  /** Begun where there are many states. */
  private symbolic: SymbolicSurvey | undefined
  /** Transitions that had been gone through when it was. */
  private before = 0

  constructor(
    readonly story: LinkedStory,
    private readonly options: SurveyOptions = {},
    /** The survey of the story as it was before an edit: what the edit can't have changed is taken from there, and it can be asked nothing more. */
    before?: Survey,
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
    const isWide = search.layout.bits > WIDE_BITS && search.states - search.expanded > WIDE_WAITING * search.states
    const { explicit = isWide ? EXPLICIT_WIDE : EXPLICIT } = this.options
    if (this.symbolic === undefined && search.states < explicit) return undefined
    if (this.symbolic === undefined) {
      this.symbolic = new SymbolicSurvey(search, this.followed, this.options.limits)
      this.before = search.transitions
    }
    const { failed, work } = this.symbolic
    if (failed) return undefined
    return explicit === 0 ||
      search.bytes > EXPLICIT_BYTES ||
      (isWide ? FOR_ONE_SET_WIDE : FOR_ONE_SET) * work <= search.transitions - this.before
      ? this.symbolic
      : undefined
  }

  /** Whether all states of the story itself have been looked at, one by one or in sets. */
  private get isDecided(): boolean {
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

  private get isDone(): boolean {
    return this.isDecided && this.asides.length === this.alone.length && this.asides.every(({ search }) => search.done)
  }

  /** What has been decided so far; complete when nothing is left to look at. */
  result(): SurveyResult {
    const { story } = this
    // what is on no route is told by the main search; the others only add overruns
    const complete = this.isDecided
    const { events, programs } = this.evidence
    const { promises, found } = this.findings()
    const reached: Record<Reachable, Record<string, Reached>> = { beats: {}, choices: {}, endings: {}, stages: {} }
    const missing: Record<Reachable, string[]> = { beats: [], choices: [], endings: [], stages: [] }
    const look = (what: Reachable, address: string, witness: Witness | undefined) => {
      if (witness === undefined) missing[what].push(address)
      else reached[what][address] = this.reachedBy(what, witness)
    }
    for (const beat of story.beats) {
      const program = programs.known(beat.index)
      look('beats', beat.address, this.seenAt(program?.event))
      beat.choices.forEach((choice, at) => look('choices', choice.address, this.seenAt(program?.choices[at]!.event)))
    }
    for (const [what, address] of this.ends()) look(what, address, events.witnessOf(MARK_OF[what], address))
    const none = { beats: [], choices: [], endings: [], stages: [] }
    const withRoutes = this.options.routes !== 'none'
    return {
      complete: this.isDone,
      reached,
      unreached: complete ? missing : none,
      undecided: { ...(complete ? none : missing), promises: undecidedOf(promises) },
      promises,
      findings: found.map((one) => withRoute(one, withRoutes)),
      figures: this.figures,
    }
  }

  /** The same in as few words as there are, for a page that has most of it already. Routes are told when they are asked for. */
  brief(): SurveyBrief {
    const { story, evidence: explored } = this
    const { events, programs } = explored
    const { promises, found } = this.findings()
    const missing = this.isDecided ? VERDICT.unreached : VERDICT.undecided
    const beats = new Uint8Array(story.beats.length).fill(missing)
    const choices = new Uint8Array(story.choices.length).fill(missing)
    const { occurred: seen } = events
    for (let beat = 0; beat < beats.length; beat += 1) {
      const program = programs.known(beat)
      if (program === undefined || seen[program.event] === 0) continue
      beats[beat] = VERDICT.reached
      const own = story.beats[beat]!.choices
      for (let at = 0; at < own.length; at += 1)
        if (seen[program.choices[at]!.event] === 1) choices[own[at]!.index] = VERDICT.reached
    }
    const ends: SurveyBrief['ends'] = {
      reached: { endings: {}, stages: {} },
      unreached: { endings: [], stages: [] },
      undecided: { endings: [], stages: [], promises: undecidedOf(promises) },
    }
    for (const [what, address] of this.ends()) {
      const witness = events.witnessOf(MARK_OF[what], address)
      if (witness !== undefined) ends.reached[what][address] = { decisions: explored.decisionsOf(witness) }
      else ends[this.isDecided ? 'unreached' : 'undecided'][what].push(address)
    }
    return {
      complete: this.isDone,
      beats,
      choices,
      ends,
      promises,
      findings: found.map((one) => withRoute(one, false)),
      figures: this.figures,
    }
  }

  /** By the search that came to the end; as far as the search over single states came where none did. */
  private get exploration(): Exploration {
    return (this.isInSets ? this.symbolic!.exploration : undefined) ?? explicitExploration(this.search, this.routes)
  }

  private get figures(): Figures {
    const { states: looked, bytes } = this.progress
    const states = this.isInSets ? looked - this.search.states + this.symbolic!.search.states : looked
    return { states, transitions: this.search.transitions, bits: this.search.layout.bits, bytes }
  }

  /** The findings so far; once all is looked at they stay. */
  private findings(): Judged {
    if (this.judged !== undefined) return this.judged
    const { lostEndings, questEnds, evidence, ...rest } = this.exploration
    const promises = rest.promises()
    const found = allFindings({
      story: this.story,
      complete: this.isDecided,
      aside: this.asides.flatMap((one) => ('entry' in one.of ? [one.evidence] : [])),
      pendingTurns: this.pendingTurns,
      evidence,
      promises,
      lostEndings,
      questEnds,
    })
    const judged = { promises, found }
    if (this.isDone) this.judged = judged
    return judged
  }

  /** Addresses of the groups in turn whose turns are not decided yet. */
  private get pendingTurns(): string[] {
    return this.alone.flatMap((of, at) =>
      'turns' in of && this.asides[at]?.search.done !== true
        ? of.turns.map((group) => this.story.turnGroups[group]!.address)
        : [],
    )
  }

  private ends(): (readonly ['endings' | 'stages', string])[] {
    const { endings, quests } = this.story
    return [
      ...endings.map(({ id }) => ['endings', id] as const),
      ...quests.flatMap(({ id, stages }) => stages.slice(1).map((stage) => ['stages', `${id}.${stage}`] as const)),
    ]
  }

  private seenAt(event: number | undefined): Witness | undefined {
    const { events } = this.evidence
    return event === undefined || events.occurred[event] === 0 ? undefined : events.witness(event)
  }

  private reachedBy(what: Reachable, witness: Witness): Reached {
    const decisions = this.evidence.decisionsOf(witness)
    const { routes = 'ends' } = this.options
    const isEnd = what === 'endings' || what === 'stages'
    if (routes !== 'all' && !(isEnd && routes === 'ends')) return { decisions }
    const { evidence } = this
    return {
      decisions,
      get route() {
        return evidence.routeOf(witness)
      },
    }
  }

  /** A shortest route to something that is reached. */
  routeTo(what: Reachable, address: string): RouteItem[] | undefined {
    const { events } = this.evidence
    const witness =
      what === 'beats' || what === 'choices' ? events.witnessOfPart(address) : events.witnessOf(MARK_OF[what], address)
    return witness && this.evidence.routeOf(witness)
  }

  /** The route that shows a finding. */
  routeOf(kind: FindingKind, key: readonly string[]): RouteItem[] | undefined {
    const name = nameOfFinding({ kind, key })
    return this.findings()
      .found.find((one) => nameOfFinding(one) === name)
      ?.lazy?.take()
  }
}

function undecidedOf(promises: SurveyResult['promises']): string[] {
  return Object.entries(promises).flatMap(([id, { verdict }]) => (verdict === 'undecided' ? [id] : []))
}

/** Surveys a story in one go, until it is done or `stop` says so. */
export function surveyStory(
  story: LinkedStory,
  options: SurveyOptions = {},
  stop: () => boolean = () => false,
): SurveyResult {
  return inOneGo(surveyInSlices(story, options, stop))
}

/** The same bit by bit. */
export function* surveyInSlices(
  story: LinkedStory,
  options: SurveyOptions = {},
  stop: () => boolean = () => false,
): Slices<SurveyResult> {
  const survey = new Survey(story, options)
  yield
  while (!survey.advance(SLICE)) {
    if (stop()) break
    yield
  }
  yield
  return survey.result()
}
