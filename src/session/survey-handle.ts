import { fail, ok, type Result } from '../core/base/result'
import { spliced } from '../core/base/spliced'
import type { Change } from '../core/story/changes/types'
import type { RouteItem, Story } from '../core/story/types'
import { endOf, type FarSurvey } from '../core/survey/far-survey'
import { nameOfFinding } from '../core/survey/findings/finding'
import type { Bearing } from '../core/survey/questions/bearing'
import type { FromSurvey, ToSurvey } from '../workers/protocol'
import type { Answer, Ask, QuestionName } from '../workers/questions'
import { SurveyReport } from './survey-report'

export type { Answer, Ask, Compared, QuestionName } from '../workers/questions'

/** What the page knows of the survey. */
export interface SurveyState {
  readonly running: { readonly states: number; readonly waiting: number } | undefined
  readonly report: SurveyReport | undefined
  /** The report before the last edit, to tell what the edit did. */
  readonly before: SurveyReport | undefined
  readonly bearing: Bearing | undefined
  /** Why there is no bearing, where it could not be worked out. */
  readonly bearingFailure: string | undefined
  readonly failure: string | undefined
  /** A question that takes long, and for how long it has been worked at, in milliseconds. */
  readonly answering: { readonly request: number; readonly name: QuestionName; readonly took: number } | undefined
}

export const NO_SURVEY: SurveyState = {
  running: undefined,
  report: undefined,
  before: undefined,
  bearing: undefined,
  bearingFailure: undefined,
  failure: undefined,
  answering: undefined,
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

/** How often in a row a worker that failed is started anew before one waits for the next edit. */
const RESTARTS = 3
/** Before a worker is started anew, in milliseconds; longer each time. */
const RESTART_MS = 300

/** The survey's worker, kept in step with the story; one that fails is started anew. */
export class SurveyHandle {
  private worker: Worker
  private version = 0
  private requests = 0
  private readonly asked = new Map<number, (answer: Result<unknown>) => void>()
  /** The story was closed. */
  private isOver = false
  /** No worker is there: the last one failed. */
  private isDown = false
  /** Workers that failed since one last answered. */
  private failures = 0
  private restart: ReturnType<typeof setTimeout> | undefined
  private watched: string | undefined
  private told: SurveyReport | undefined
  /** What was kept with the story, which holds for this version of it. */
  private recalled: { readonly report: SurveyReport; readonly version: number } | undefined
  /** A report that came when the story was edited already: it is shown once the edit is known to change nothing in it. */
  private overtaken: { readonly report: SurveyReport; readonly version: number } | undefined
  /** What was said elsewhere. */
  private far: { readonly report: SurveyReport; readonly routes: FarSurvey['routes'] } | undefined
  private state = NO_SURVEY

  constructor(
    private readonly tell: (state: SurveyState) => void,
    /** The story as it is now. */
    private readonly story: () => Story,
  ) {
    this.worker = this.begin(idle ?? newWorker())
    idle = undefined
  }

  private begin(worker: Worker): Worker {
    worker.onmessage = ({ data }: MessageEvent<FromSurvey>) => this.hear(data)
    worker.onerror = (event) => this.fail(event.message || 'the survey could not be started')
    worker.onmessageerror = () => this.fail('an answer of the survey could not be read')
    return worker
  }

  open(story: Story): void {
    if (this.isOver) return
    this.version += 1
    if (this.isDown) return this.startAnew()
    this.set({ running: { states: 0, waiting: 0 }, answering: undefined })
    this.post({ type: 'open', story: JSON.stringify(story), version: this.version })
  }

  change(change: Change): void {
    if (this.isOver) return
    this.version += 1
    if (this.isDown) return this.startAnew()
    // what is about the story is begun anew
    this.set({ running: this.state.running ?? { states: 0, waiting: 0 }, answering: undefined })
    this.post({ type: 'change', change, version: this.version })
  }

  watch(beat: string | undefined): void {
    this.watched = beat
    this.set({ bearing: undefined, bearingFailure: undefined })
    if (!this.isDown) this.post({ type: 'watch', beat })
  }

  /**
   * Asks one of the questions; a question that fails, or that nobody can answer any more, says why. With the signal whoever asked
   * says that they don't wait any more.
   */
  ask<N extends QuestionName>(name: N, ask: Ask<N>, signal?: AbortSignal): Promise<Result<Answer<N>>> {
    const far = this.farRoute(name, ask)
    if (far !== undefined) return Promise.resolve(ok(far as Answer<N>))
    const request = (this.requests += 1)
    return new Promise((answer) => {
      if (this.isOver || this.isDown) return answer(fail('the survey is not running'))
      this.asked.set(request, answer as (answer: Result<unknown>) => void)
      this.post({ type: 'ask', request, name, ask } as ToSurvey)
      signal?.addEventListener('abort', () => this.withdraw(request), { once: true })
    })
  }

  /** Ends the work at a question; who asked it is told that it was stopped. */
  withdraw(request: number): void {
    if (this.asked.has(request)) this.post({ type: 'withdraw', request })
  }

  stop(): void {
    this.post({ type: 'stop' })
  }

  /** Shows what was kept of an earlier survey of just this story, while it is surveyed anew; gives it. */
  recall(far: FarSurvey, took: number): SurveyReport {
    const report = this.adopt(far, took)
    this.recalled = { report, version: this.version }
    this.set({ running: undefined })
    return report
  }

  /** What is shown once the story was surveyed of which something was recalled. */
  private afterRecall(recalled: SurveyReport, told: SurveyReport): SurveyReport {
    // one that was cut short says less
    if (!told.complete) return recalled
    // the very same, so that nobody asks anew
    return told.saysAs(recalled) ? recalled : told
  }

  /** Takes over what a longer survey of the same story said elsewhere. */
  adopt({ brief: { beats, choices, findings, ...rest }, addresses, routes }: FarSurvey, took: number): SurveyReport {
    const verdicts = { beats: Uint8Array.from(beats), choices: Uint8Array.from(choices) }
    const named = { beats: spliced([], addresses.beats), choices: spliced([], addresses.choices) }
    const told = { ...rest, ...verdicts, addresses: named, findings: spliced([], findings), took }
    const report = new SurveyReport(told, undefined)
    this.far = { report, routes }
    this.set({ report })
    return report
  }

  /** A route that only the survey elsewhere knows. */
  private farRoute<N extends QuestionName>(name: N, ask: Ask<N>): readonly RouteItem[] | undefined {
    const { far } = this
    if (far === undefined || far.report !== this.state.report) return undefined
    if (name === 'route-of') return far.routes[nameOfFinding(ask as Ask<'route-of'>)]
    const { what, address } = ask as Ask<'route-to'>
    return name === 'route-to' && (what === 'endings' || what === 'stages')
      ? far.routes[endOf(what, address)]
      : undefined
  }

  /** The worker has failed as a whole: whoever waits is told, and another one takes its place. */
  private fail(message: string): void {
    this.worker.terminate()
    this.isDown = true
    this.failures += 1
    this.settleAll(message)
    this.set({ running: undefined, failure: message, answering: undefined })
    // one that fails each time waits for a story that may be another's
    if (this.failures < RESTARTS) this.restart = setTimeout(() => this.startAnew(), RESTART_MS * this.failures)
  }

  private startAnew(): void {
    clearTimeout(this.restart)
    if (this.isOver || !this.isDown) return
    this.worker = this.begin(newWorker())
    this.isDown = false
    // it begins at the beginning, and leaves nothing out of its first report
    this.told = undefined
    this.overtaken = undefined
    this.set({ running: { states: 0, waiting: 0 } })
    this.post({ type: 'open', story: JSON.stringify(this.story()), version: this.version })
    this.post({ type: 'watch', beat: this.watched })
  }

  private settleAll(message: string): void {
    const waiting = [...this.asked.values()]
    this.asked.clear()
    for (const answer of waiting) answer(fail(message))
  }

  close(): void {
    const { running, failure } = this.state
    const isBusy = running !== undefined || failure !== undefined || this.asked.size > 0
    this.isOver = true
    clearTimeout(this.restart)
    this.settleAll('the story was closed')
    if (isBusy) {
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
    if (message.type === 'answered') {
      const answer = this.asked.get(message.request)
      this.asked.delete(message.request)
      if (this.state.answering?.request === message.request) this.set({ answering: undefined })
      return answer?.(message.answer)
    }
    if (message.type === 'answering') {
      const { request, name, took } = message
      // it was withdrawn meanwhile by somebody who left
      return this.asked.has(request) ? this.set({ answering: { request, name, took } }) : undefined
    }
    // each report leaves out what the last one told, so none may be passed over
    if (message.type === 'report') {
      this.told = new SurveyReport(message.report, this.told)
      this.failures = 0
    }
    // An answer to an earlier edit is overtaken.
    if (message.version !== this.version && message.type !== 'bearing') {
      if (message.type === 'report') this.overtaken = { report: this.told!, version: message.version }
      return
    }
    switch (message.type) {
      case 'progress':
        return this.isRecalledAt(message.version)
          ? undefined
          : this.set({ running: { states: message.states, waiting: message.waiting } })
      case 'report':
        return this.show(this.told!, message.version)
      case 'unchanged':
        return this.overtaken === undefined
          ? this.set({ running: undefined })
          : this.show(this.overtaken.report, this.overtaken.version)
      case 'bearing':
        return message.bearing.ok
          ? this.set({ bearing: message.bearing.value, bearingFailure: undefined })
          : this.set({ bearing: undefined, bearingFailure: message.bearing.error })
      case 'failed':
        return this.set({ running: undefined, failure: message.message })
      case 'closed':
        break
    }
  }

  /** Whether what is shown was recalled, of the story as it was at a version. */
  private isRecalledAt(version: number): boolean {
    return this.recalled?.version === version && this.recalled.report === this.state.report
  }

  /** Shows what the survey of a version told. */
  private show(told: SurveyReport, version: number): void {
    const { report, before } = this.state
    const isRecalled = this.isRecalledAt(version)
    this.overtaken = undefined
    this.set({
      running: undefined,
      report: isRecalled ? this.afterRecall(report!, told) : told,
      // what was recalled was of the same story
      before: isRecalled ? before : report,
      bearingFailure: undefined,
      failure: undefined,
    })
  }

  private set(part: Partial<SurveyState>): void {
    this.state = { ...this.state, ...part }
    this.tell(this.state)
  }
}
