import type { WhyNot } from '../core/survey/questions/why-not'
import type { FoundRoute } from '../core/survey/questions/find-route'
import type { NoReturn } from '../core/survey/questions/no-return'
import type { ReadingList } from '../core/survey/questions/reading-list'
import type { TakenValues } from '../core/survey/questions/entry-values'
import type { Mend } from '../core/survey/questions/mends'
import type { Finding } from '../core/survey/findings/finding'
import type { Reachable } from '../core/survey/result'
import type { Axis, CallSheet } from '../core/survey/questions/quests/call-sheet'
import type { QuestFacts } from '../core/survey/questions/quests/quest-facts'
import type { Bearing } from '../core/survey/questions/bearing'
import type { Change } from '../core/story/changes/types'
import type { Decision, Story } from '../core/story/types'
import type { Compared, FromSurvey, ToSurvey } from '../workers/protocol'
import { SurveyReport } from './survey-report'

/** What the page knows of the survey. */
export interface SurveyState {
  readonly running: { readonly states: number; readonly waiting: number } | undefined
  readonly report: SurveyReport | undefined
  /** The report before the last edit, to tell what the edit did. */
  readonly before: SurveyReport | undefined
  readonly bearing: Bearing | undefined
  /** Answers to "why not" about the last report, by address. */
  readonly why: Readonly<Record<string, WhyNot>>
  readonly failure: string | undefined
}

export const NO_SURVEY: SurveyState = {
  running: undefined,
  report: undefined,
  before: undefined,
  bearing: undefined,
  why: {},
  failure: undefined,
}

/** A worker that has nothing to do: a new one that warms up, or that of a story that was closed. It opens the next story several times as fast as one just started. */
let idle: Worker | undefined

function newWorker(): Worker {
  return new Worker(new URL('../workers/survey.worker.ts', import.meta.url), { type: 'module' })
}

/** Starts the worker of the story that will be opened soon. */
export function prepareSurvey(): void {
  if (idle !== undefined) return
  const worker = newWorker()
  // a new one is started when a story comes, and what is wrong is said then
  worker.onerror = () => {
    if (idle === worker) idle = undefined
  }
  idle = worker
}

/** The survey's worker, kept in step with the story. */
export class SurveyHandle {
  private readonly worker: Worker
  private version = 0
  private requests = 0
  private readonly asked = new Map<number, (answer: never) => void>()
  private told: SurveyReport | undefined
  private state = NO_SURVEY

  constructor(private readonly tell: (state: SurveyState) => void) {
    this.worker = idle ?? newWorker()
    idle = undefined
    this.worker.onmessage = ({ data }: MessageEvent<FromSurvey>) => this.hear(data)
    this.worker.onerror = (event) =>
      this.set({ running: undefined, failure: event.message || 'the survey could not be started' })
  }

  open(story: Story): void {
    this.version += 1
    this.set({ running: { states: 0, waiting: 0 } })
    this.post({ type: 'open', story: JSON.stringify(story), version: this.version })
  }

  change(change: Change): void {
    this.version += 1
    this.set({ running: this.state.running ?? { states: 0, waiting: 0 } })
    this.post({ type: 'change', change, version: this.version })
  }

  watch(beat: string | undefined): void {
    this.set({ bearing: undefined })
    this.post({ type: 'watch', beat })
  }

  ask(address: string): void {
    this.post({ type: 'why', address })
  }

  /** What a change would do to the verdicts, without making it. */
  whatIf(change: Change): Promise<Compared> {
    return this.request((request) => ({ type: 'what-if', request, change }))
  }

  /** What the verdicts of two stories say differently. */
  compare(before: Story, after: Story): Promise<Compared> {
    return this.request((request) => ({ type: 'compare', request, before, after }))
  }

  /** The shortest route to where a condition holds. */
  find(condition: string): Promise<FoundRoute> {
    return this.request((request) => ({ type: 'find', request, condition }))
  }

  /** A shortest route to an ending, a stage, a beat or a choice; undefined where there is none or no survey is finished. */
  routeTo(what: Reachable, address: string): Promise<readonly Decision[] | undefined> {
    return this.request((request) => ({ type: 'route-to', request, what, address }))
  }

  /** The route that shows a finding. */
  routeOf({ kind, key }: Finding): Promise<readonly Decision[] | undefined> {
    return this.request((request) => ({ type: 'route-of', request, kind, key }))
  }

  noReturn(): Promise<readonly NoReturn[] | 'too many'> {
    return this.request((request) => ({ type: 'no-return', request }))
  }

  /** The moves that quests really make; undefined while no survey is finished. */
  questFacts(): Promise<Readonly<Record<string, QuestFacts>> | 'too many' | undefined> {
    return this.request((request) => ({ type: 'quest-facts', request }))
  }

  /** Who says what at which stage; undefined when it would take too long. */
  callSheet(axis: Axis | undefined): Promise<CallSheet | undefined> {
    return this.request((request) => ({ type: 'call-sheet', request, axis }))
  }

  /** The values that each entry really takes; undefined when it would take too long. */
  entryValues(): Promise<Readonly<Record<string, TakenValues>> | undefined> {
    return this.request((request) => ({ type: 'entry-values', request }))
  }

  /** An edit that settles a finding, as a survey has shown; undefined where none is known. */
  mend(finding: Finding): Promise<Mend | undefined> {
    return this.request((request) => ({ type: 'mend', request, finding }))
  }

  /** Undefined while no survey is finished. */
  readingList(): Promise<ReadingList | 'too many' | undefined> {
    return this.request((request) => ({ type: 'reading-list', request }))
  }

  private request<T>(message: (request: number) => ToSurvey): Promise<T> {
    const request = (this.requests += 1)
    return new Promise((answer) => {
      this.asked.set(request, answer)
      this.post(message(request))
    })
  }

  stop(): void {
    this.post({ type: 'stop' })
  }

  close(): void {
    const { running, failure } = this.state
    if (running !== undefined || failure !== undefined || this.asked.size > 0) {
      this.worker.terminate()
      return
    }
    const { worker } = this
    worker.onerror = () => worker.terminate()
    // what it still had to say is not for the next story
    worker.onmessage = ({ data }: MessageEvent<FromSurvey>) => {
      if (data.type !== 'closed') return
      // quicker than one that is still warming up
      idle?.terminate()
      idle = worker
    }
    this.post({ type: 'close' })
  }

  private post(message: ToSurvey): void {
    this.worker.postMessage(message)
  }

  private hear(message: FromSurvey): void {
    if (message.type === 'answer') {
      this.asked.get(message.request)?.(message.answer as never)
      this.asked.delete(message.request)
      return
    }
    // each report leaves out what the last one told, so none may be passed over
    if (message.type === 'report') this.told = new SurveyReport(message.report, this.told)
    // An answer to an earlier edit is overtaken.
    if (message.version !== this.version && message.type !== 'bearing' && message.type !== 'why') return
    switch (message.type) {
      case 'progress':
        return this.set({ running: { states: message.states, waiting: message.waiting } })
      case 'report':
        return this.set({
          running: undefined,
          report: this.told,
          before: this.state.report,
          why: {},
          failure: undefined,
        })
      case 'unchanged':
        return this.set({ running: undefined })
      case 'bearing':
        return this.set({ bearing: message.bearing })
      case 'why':
        return this.set({ why: { ...this.state.why, [message.answer.address]: message.answer } })
      case 'failed':
        return this.set({ running: undefined, failure: message.message })
      case 'closed':
        break
    }
  }

  private set(part: Partial<SurveyState>): void {
    this.state = { ...this.state, ...part }
    this.tell(this.state)
  }
}
