import type { LinkedEntry, LinkedStory } from '../story/linked'
import type { Decision } from '../story/types'
import type { SurveyContext } from './context'
import { Search } from './explicit/search'
import { allFindings } from './findings/all'
import type { MarkKind } from './marks'
import { judgePromises } from './promises'
import { endingProspects } from './prospects'
import { REACHABLE, type Reachable, type Reached, type SurveyResult } from './result'
import { Routes } from './routes'
import { eachEffect } from './story-parts'
import { usedEntries } from './used-entries'

export interface SurveyOptions {
  /** Off only in tests, to hold the reductions against the plain search. */
  readonly liveness?: boolean
  /** Give a route for every reached beat and choice too; endings, stages and findings always have theirs. */
  readonly everyRoute?: boolean
  /** Off where the routes to endings and stages are asked for one by one: in a long story they are long and many. */
  readonly endRoutes?: boolean
  /** How often a beat is looked at before code is written for it; for tests. */
  readonly hot?: number
}

/** States expanded between two looks at the budget. */
const STRIDE = 2048

const MARK_OF: Readonly<Record<Reachable, MarkKind>> = { beats: 'beat', choices: 'choice', endings: 'ending', stages: 'stage' }

/** A search that follows an entry which nothing reads, to see whether effects leave its range. */
interface Aside {
  readonly search: Search
  readonly routes: Routes
}

/**
 * One survey of one story, which can be carried on bit by bit. A counter that nothing reads can
 * not change where the story goes, so in the main search it would only multiply the states; each
 * such counter is followed in a search of its own, and their states add up instead.
 */
export class Survey {
  readonly search: Search
  readonly routes: Routes
  private readonly aside: Aside[] = []
  private readonly unread: number[]

  constructor(
    readonly story: LinkedStory,
    private readonly options: SurveyOptions = {},
    /** The survey of the story as it was before an edit: what the edit can't have changed is taken from there, and it can be asked nothing more. */
    before?: Survey,
  ) {
    const liveness = options.liveness ?? true
    const { read, unread } = rangedEntries(story)
    const overruns = new Set(liveness ? read : [...read, ...unread])
    this.unread = liveness ? unread : []
    this.search = new Search(story, { observed: { overruns, unsetTexts: true, quests: true, promises: true, keep: [] }, liveness, ...this.heat }, before?.search)
    this.routes = new Routes(this.search)
  }

  /** States looked at or waiting, and those waiting, in all searches so far. */
  get progress(): { readonly states: number; readonly waiting: number; readonly bytes: number } {
    const all = [this.search, ...this.aside.map(({ search }) => search)]
    const sum = (of: (search: Search) => number) => all.reduce((total, search) => total + of(search), 0)
    return { states: sum((search) => search.states), waiting: sum((search) => search.states - search.expanded), bytes: sum((search) => search.bytes) }
  }

  /** Looks at more states; true when all have been looked at. */
  advance(states = STRIDE): boolean {
    if (!this.search.done) {
      this.search.advance(states)
      return this.search.done && this.unread.length === 0
    }
    const last = this.aside.at(-1)
    if (last !== undefined && !last.search.done) last.search.advance(states)
    else {
      const entry = this.unread[this.aside.length]
      if (entry === undefined) return true
      const search = new Search(this.story, { observed: { overruns: new Set([entry]), unsetTexts: false, quests: false, promises: false, keep: [] }, ...this.heat })
      this.aside.push({ search, routes: new Routes(search) })
      search.advance(states)
    }
    return this.isDone
  }

  private get heat(): { hot?: number } {
    return this.options.hot === undefined ? {} : { hot: this.options.hot }
  }

  private get isDone(): boolean {
    return this.search.done && this.aside.length === this.unread.length && this.aside.every(({ search }) => search.done)
  }

  /** What has been decided so far; complete when nothing is left to look at. */
  result(): SurveyResult {
    const { story, search, routes } = this
    // what is on no route is told by the main search; the others only add overruns
    const complete = search.done
    const promises = judgePromises(search, routes)
    const endings = endingProspects(search)
    const context: SurveyContext = { story, search, routes, complete, aside: this.aside, promises, endings }
    const reached: Record<Reachable, Record<string, Reached>> = { beats: {}, choices: {}, endings: {}, stages: {} }
    const missing: Record<Reachable, string[]> = { beats: [], choices: [], endings: [], stages: [] }
    for (const what of REACHABLE) {
      for (const address of this.addresses(what)) {
        const found = this.reachedAt(what, address)
        if (found === undefined) missing[what].push(address)
        else reached[what][address] = found
      }
    }
    const none = { beats: [], choices: [], endings: [], stages: [] }
    const undecidedPromises = Object.entries(promises).flatMap(([id, { verdict }]) => (verdict === 'undecided' ? [id] : []))
    const { states, bytes } = this.progress
    return {
      complete: this.isDone,
      reached,
      unreached: complete ? missing : none,
      undecided: { ...(complete ? none : missing), promises: undecidedPromises },
      promises,
      findings: allFindings(context),
      figures: { states, transitions: search.transitions, bits: search.layout.bits, bytes },
    }
  }

  private addresses(what: Reachable): readonly string[] {
    const { story } = this
    switch (what) {
      case 'beats':
        return story.beats.map((beat) => beat.address)
      case 'choices':
        return story.choices.map((choice) => choice.address)
      case 'endings':
        return story.endings.map((ending) => ending.id)
      case 'stages':
        return story.quests.flatMap((quest) => quest.stages.slice(1).map((stage) => `${quest.id}.${stage}`))
    }
  }

  private reachedAt(what: Reachable, address: string): Reached | undefined {
    const witness = this.search.marks.find(MARK_OF[what], address)
    if (witness === undefined) return undefined
    const decisions = this.search.decisionsOf(witness)
    const isEnd = what === 'endings' || what === 'stages'
    const wanted = this.options.everyRoute === true || (isEnd && this.options.endRoutes !== false)
    return wanted ? { decisions, route: this.routes.of(witness) } : { decisions }
  }

  /** A shortest route to something that is reached. */
  routeTo(what: Reachable, address: string): Decision[] | undefined {
    const witness = this.search.marks.find(MARK_OF[what], address)
    return witness && this.routes.of(witness)
  }
}

/** Counters and items that an effect may take out of their range: those that something reads, and those that nothing does. */
function rangedEntries(story: LinkedStory): { read: number[]; unread: number[] } {
  const { read, written } = usedEntries(story)
  const ranged = story.entries.filter(({ kind, index }) => (kind === 'counter' || kind === 'item') && written[index] === 1)
  return {
    read: ranged.filter(({ index }) => read[index] === 1).map(({ index }) => index),
    unread: ranged.filter((entry) => read[entry.index] === 0 && !staysInRange(story, entry)).map(({ index }) => index),
  }
}

/**
 * Whether it is plain that no effect takes the entry out of its range: each change is by a fixed
 * amount and made by a choice that can be taken once, so that all of them together are the most.
 */
function staysInRange(story: LinkedStory, entry: LinkedEntry): boolean {
  const onceOnly = new Set<string>(story.choices.filter((choice) => choice.once).map((choice) => choice.address))
  let lowest = Number(entry.initial)
  let highest = lowest
  let up = 0
  let down = 0
  let plain = true
  eachEffect(story, ({ effect }, owner) => {
    if (effect.kind === 'stage' || effect.entry !== entry.id) return
    if (effect.value.kind !== 'int') plain = false
    else if (effect.kind === 'set') {
      lowest = Math.min(lowest, effect.value.value)
      highest = Math.max(highest, effect.value.value)
    } else {
      if (!onceOnly.has(owner)) plain = false
      const by = effect.kind === 'add' ? effect.value.value : -effect.value.value
      if (by > 0) up += by
      else down -= by
    }
  })
  return plain && highest + up <= entry.max && lowest - down >= entry.min
}

/** Surveys a story in one go, until it is done or `stop` says so. */
export function surveyStory(story: LinkedStory, options: SurveyOptions = {}, stop: () => boolean = () => false): SurveyResult {
  const survey = new Survey(story, options)
  while (!survey.advance()) if (stop()) break
  return survey.result()
}
