import type { LinkedStory } from '../story/linked'
import type { SurveyContext } from './context'
import { Search } from './explicit/search'
import { allFindings } from './findings/all'
import { OBSERVE_ALL } from './liveness'
import type { MarkKind } from './marks'
import { judgePromises } from './promises'
import { prospects } from './prospects'
import { REACHABLE, type Reachable, type Reached, type SurveyResult } from './result'
import { Routes } from './routes'

export interface SurveyOptions {
  /** Off only in tests, to hold the reductions against the plain search. */
  readonly liveness?: boolean
  /** Give a route for every reached beat and choice too; endings, stages and findings always have theirs. */
  readonly everyRoute?: boolean
}

/** States expanded between two looks at the budget. */
const STRIDE = 2048

const MARK_OF: Readonly<Record<Reachable, MarkKind>> = { beats: 'beat', choices: 'choice', endings: 'ending', stages: 'stage' }

/** One survey of one story, which can be carried on bit by bit. */
export class Survey {
  readonly search: Search
  readonly routes: Routes

  constructor(
    readonly story: LinkedStory,
    private readonly options: SurveyOptions = {},
  ) {
    this.search = new Search(story, { observed: OBSERVE_ALL, liveness: options.liveness ?? true })
    this.routes = new Routes(this.search)
  }

  /** Looks at more states; true when all have been looked at. */
  advance(states = STRIDE): boolean {
    return this.search.advance(states)
  }

  /** What has been decided so far; complete when nothing is left to look at. */
  result(): SurveyResult {
    const { story, search, routes } = this
    const complete = search.done
    const promises = judgePromises(search, routes)
    const endings = prospects(search, [() => search.resting.ending !== -1])
    const context: SurveyContext = { story, search, routes, complete, promises, endings }
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
    return {
      complete,
      reached,
      unreached: complete ? missing : none,
      undecided: { ...(complete ? none : missing), promises: undecidedPromises },
      promises,
      findings: allFindings(context),
      figures: { states: search.states, transitions: search.edges.length, bits: search.layout.bits, bytes: search.bytes },
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
    const wanted = what === 'endings' || what === 'stages' || this.options.everyRoute === true
    return wanted ? { decisions, route: this.routes.of(witness) } : { decisions }
  }
}

/** Surveys a story in one go, until it is done or `stop` says so. */
export function surveyStory(story: LinkedStory, options: SurveyOptions = {}, stop: () => boolean = () => false): SurveyResult {
  const survey = new Survey(story, options)
  while (!survey.advance()) if (stop()) break
  return survey.result()
}
