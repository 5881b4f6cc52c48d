import { inOneGo, type Slices } from '../base/slices'
import type { LinkedStory } from '../story/linked'
import { choicesOf } from '../story/linked-parts'
import type { RouteItem } from '../story/types'
import { allFindings } from './findings/all'
import { nameOfFinding, withRoute, type FindingKind, type Found } from './findings/finding'
import type { Witness } from './interpreter/events'
import { VERDICT, type Reachable, type Reached, type SurveyBrief, type SurveyResult } from './result'
import { Searches, type SurveyOptions } from './searches'

/** States expanded before others may work in between. */
const SLICE = 512

const MARK_OF = { endings: 'ending', stages: 'stage' } as const

interface Judged {
  readonly promises: SurveyResult['promises']
  readonly found: readonly Found[]
}

/** One survey of one story, which can be carried on bit by bit, and what it says so far. */
export class Survey extends Searches {
  private judged: Judged | undefined

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
    for (const beat of story.inOrder) {
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
    const { inOrder } = story
    const beats = new Uint8Array(inOrder.length).fill(missing)
    const choices = new Uint8Array(choicesOf(story).length).fill(missing)
    const { occurred: seen } = events
    let first = 0
    for (let beat = 0; beat < inOrder.length; beat += 1) {
      const { index, choices: own } = inOrder[beat]!
      const program = programs.known(index)
      if (program !== undefined && seen[program.event] === 1) {
        beats[beat] = VERDICT.reached
        for (let at = 0; at < own.length; at += 1)
          if (seen[program.choices[at]!.event] === 1) choices[first + at] = VERDICT.reached
      }
      first += own.length
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
