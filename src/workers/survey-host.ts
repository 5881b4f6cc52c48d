import { fail, ok, type Result } from '../core/base/result'
import type { Slices } from '../core/base/slices'
import { spliced, type Spliced } from '../core/base/spliced'
import { applyChange } from '../core/story/changes/apply'
import type { Change } from '../core/story/changes/types'
import { linkStory } from '../core/story/link'
import type { LinkedStory } from '../core/story/linked'
import { choicesOf } from '../core/story/linked-parts'
import type { Story } from '../core/story/types'
import { sameVerdicts } from '../core/story/verdict-key'
import { sameFinding, type Finding } from '../core/survey/findings/finding'
import { Bearings } from '../core/survey/questions/bearing'
import type { SurveyResult } from '../core/survey/result'
import { Survey } from '../core/survey/survey'
import type { FromSurvey, ToSurvey } from './protocol'
import type { Ask, QuestionName } from './questions'
import { ANSWERS, ON_REQUEST, type Asked } from './survey-answers'

/** How long it works between two looks at its messages, in milliseconds. */
const SLICE_MS = 25
/** After this long, or this many bytes, the survey answers with what is decided. */
const TIME_MS = 30_000
const MEMORY_BYTES = 1_500_000_000
const PROGRESS_MS = 200
/** A question that is worked at for longer is told of, and then so often, in milliseconds. */
const LONG_MS = 2_000
const LONG_TOLD_MS = 500
/** States between two looks at the clock. */
const STRIDE = 512

/** An answer as whoever does not know the question sees it. */
type Answers =
  | {
      readonly about: 'story' | 'itself'
      readonly isLong?: true
      readonly work: (ask: unknown, of: Asked) => Slices<unknown>
    }
  | {
      readonly about: 'roads'
      readonly isLong?: never
      readonly work: (ask: unknown, of: Pick<Asked, 'linked'>) => Slices<unknown>
    }

export interface HostSurroundings {
  readonly post: (message: FromSurvey) => void
  /** In milliseconds, from anywhere. */
  readonly now: () => number
  /** What is done until the first story comes. */
  readonly warmUp?: Slices<void>
  /** Stands in for the questions' own answers; for tests. */
  readonly answers?: Partial<typeof ANSWERS>
}

interface Running {
  readonly survey: Survey
  readonly since: number
  told: number
}

interface Finished {
  readonly survey: Survey
  readonly bearings: Bearings
  readonly version: number
  /** In full, when a question asks for it. */
  result?: SurveyResult
}

interface Question {
  readonly request: number
  readonly name: QuestionName
  readonly ask: Ask<QuestionName>
  /** Taken up from the beginning when an edit comes in between. */
  begun?: Begun
}

interface Begun {
  readonly slices: Slices<unknown>
  readonly since: number
  /** When that it goes on is told next. */
  tellAt: number
}

interface Addressed {
  readonly address: string
}

const NOTHING_TOLD: {
  readonly beats: readonly Addressed[]
  readonly choices: readonly Addressed[]
  readonly findings: readonly Finding[]
} = { beats: [], choices: [], findings: [] }

/**
 * The survey of one open story and the answers to what is asked about it. It works in slices between which messages are
 * heard: the survey first, then the questions in their order, those that can take seconds after all others. One that was
 * begun is answered before the next is. Every question is answered, a failed one too, and a
 * failure ends nothing but itself.
 */
export class SurveyHost {
  private story: Story | undefined
  private version = 0
  private surveyed: Story | undefined
  private linked: LinkedStory | undefined
  private running: Running | undefined
  private finished: Finished | undefined
  private readonly questions: Question[] = []
  /** What the page knows of the last report. */
  private told = NOTHING_TOLD
  private watched: string | undefined
  private warming: Slices<void> | undefined
  private readonly answers: typeof ANSWERS

  constructor(private readonly surroundings: HostSurroundings) {
    this.warming = surroundings.warmUp
    this.answers = { ...ANSWERS, ...surroundings.answers }
  }

  hear(message: ToSurvey): void {
    try {
      this.obey(message)
    } catch (error) {
      this.fail(error)
    }
  }

  /** Works for a while; gives whether there is more to do. */
  slice(): boolean {
    const until = this.surroundings.now() + SLICE_MS
    try {
      if (this.warming?.next().done === true) this.warming = undefined
      // what needs no survey is not kept waiting for it
      const early = this.questions.find(({ name }) => this.answers[name].about === 'roads')
      if (early !== undefined && this.linked !== undefined) this.carryOnAnswering(early, until)
      if (this.running !== undefined) this.carryOn(this.running, until)
    } catch (error) {
      this.fail(error)
    }
    while (this.running === undefined && this.surroundings.now() < until) {
      const question = this.nextQuestion
      if (question === undefined || !this.carryOnAnswering(question, until)) break
    }
    return this.warming !== undefined || this.running !== undefined || this.questions.length > 0
  }

  private get nextQuestion(): Question | undefined {
    const isLong = ({ name }: Question) => (this.answers[name] as Answers).isLong === true
    return (
      this.questions.find(({ begun }) => begun !== undefined) ??
      this.questions.find((question) => !isLong(question)) ??
      this.questions[0]
    )
  }

  private obey(message: ToSurvey): void {
    switch (message.type) {
      case 'open':
        this.warming = undefined
        this.story = JSON.parse(message.story) as Story
        this.version = message.version
        this.askAnew()
        return this.begin()
      case 'change':
        return this.change(message.change, message.version)
      case 'stop':
        if (this.running !== undefined) this.finish(this.running)
        return
      case 'withdraw':
        return this.withdraw(message.request)
      case 'close':
        this.forget()
        return this.surroundings.post({ type: 'closed', version: this.version })
      case 'watch':
        this.watched = message.beat
        return this.sendBearing()
      case 'ask':
        this.questions.push({ request: message.request, name: message.name, ask: message.ask })
        return
    }
  }

  private withdraw(request: number): void {
    const question = this.questions.find((one) => one.request === request)
    // it may have been answered meanwhile
    if (question !== undefined) this.settle(question, fail('it was stopped'))
  }

  private change(change: Change, version: number): void {
    if (this.story === undefined) throw new Error('no story is open')
    const applied = applyChange(this.story, change)
    if (!applied.ok) throw new Error(applied.error)
    this.story = applied.value.story
    this.version = version
    this.askAnew()
    if (this.surveyed === undefined || !sameVerdicts(this.surveyed, this.story)) return this.begin()
    this.surveyed = this.story
    if (this.running !== undefined) return
    // what was found holds for the story as it is now
    if (this.finished !== undefined) this.finished = { ...this.finished, version }
    this.surroundings.post({ type: 'unchanged', version })
  }

  /** What is asked about the story is asked about the story as it is now. */
  private askAnew(): void {
    for (const question of this.questions) if (this.answers[question.name].about !== 'itself') delete question.begun
  }

  private begin(): void {
    const since = this.surroundings.now()
    const story = this.story!
    // the survey of the story before the edit gives what it knows to the next, and answers no more
    const before = this.running?.survey ?? this.finished?.survey
    this.running = undefined
    this.finished = undefined
    this.surveyed = story
    this.linked = linkStory(story, this.linked)
    this.running = { survey: new Survey(this.linked, ON_REQUEST, before), since, told: since }
  }

  private carryOn(running: Running, until: number): void {
    const { survey, since } = running
    const { now, post } = this.surroundings
    while (now() < until) if (survey.advance(STRIDE)) return this.finish(running)
    const at = now()
    if (at - since > TIME_MS || survey.progress.bytes > MEMORY_BYTES) return this.finish(running)
    if (at - running.told <= PROGRESS_MS) return
    running.told = at
    const { states, waiting } = survey.progress
    post({ type: 'progress', version: this.version, states, waiting })
  }

  private finish({ survey, since }: Running): void {
    this.running = undefined
    const { findings, ...rest } = survey.brief()
    const [beats, choices] = [survey.story.inOrder, choicesOf(survey.story)]
    const { told } = this
    this.surroundings.post({
      type: 'report',
      version: this.version,
      report: {
        ...rest,
        findings: spliced(told.findings, findings, sameFinding),
        addresses: { beats: addressesSince(told.beats, beats), choices: addressesSince(told.choices, choices) },
        took: this.surroundings.now() - since,
      },
    })
    this.told = { beats, choices, findings }
    this.finished = { survey, bearings: new Bearings(survey), version: this.version }
    this.sendBearing()
  }

  private sendBearing(): void {
    const { finished, watched } = this
    if (finished === undefined || watched === undefined) return
    const { version } = finished
    // a bearing that fails ends nothing but itself
    try {
      this.surroundings.post({ type: 'bearing', version, bearing: ok(finished.bearings.of(watched)) })
    } catch (error) {
      this.surroundings.post({ type: 'bearing', version, bearing: fail(messageOf(error)) })
    }
  }

  /** False when the time is over before the answer is there. */
  private carryOnAnswering(question: Question, until: number): boolean {
    try {
      const begun = (question.begun ??= this.started(question))
      this.tellOf(question, begun)
      for (;;) {
        const step = begun.slices.next()
        if (step.done === true) {
          this.settle(question, ok(step.value))
          return true
        }
        if (this.surroundings.now() >= until) return false
      }
    } catch (error) {
      this.settle(question, fail(messageOf(error)))
      return true
    }
  }

  /** Says from time to time that a question takes long. */
  private tellOf({ request, name }: Question, begun: Begun): void {
    const at = this.surroundings.now()
    if (at < begun.tellAt) return
    begun.tellAt = at + LONG_TOLD_MS
    this.surroundings.post({ type: 'answering', request, name, took: at - begun.since })
  }

  private started(question: Question): Begun {
    const since = this.surroundings.now()
    return { slices: this.workOf(question), since, tellAt: since + LONG_MS }
  }

  private workOf({ name, ask }: Question): Slices<unknown> {
    const { finished, story, linked } = this
    const answering = this.answers[name] as Answers
    if (answering.about === 'roads') {
      if (linked === undefined) throw new Error('no story is open')
      return answering.work(ask, { linked })
    }
    if (finished === undefined || story === undefined || linked === undefined)
      throw new Error('no survey of the story is finished')
    const { now } = this.surroundings
    const of: Asked = {
      story,
      linked,
      survey: finished.survey,
      result: () => (finished.result ??= finished.survey.result()),
      within: (limit) => {
        const since = now()
        return () => now() - since > limit
      },
    }
    return answering.work(ask, of)
  }

  /** A question is answered, or told why it is not. */
  private settle(question: Question, answer: Result<unknown>): void {
    this.surroundings.post({ type: 'answered', request: question.request, answer })
    this.questions.splice(this.questions.indexOf(question), 1)
  }

  /** As if just started; what has run often stays quick. */
  private forget(): void {
    for (const question of [...this.questions]) this.settle(question, fail('the story was closed'))
    this.story = undefined
    this.surveyed = undefined
    this.linked = undefined
    this.running = undefined
    this.finished = undefined
    this.watched = undefined
    this.told = NOTHING_TOLD
  }

  /** The survey of the story as it is now failed: nothing of it is used again. */
  private fail(error: unknown): void {
    this.running = undefined
    this.finished = undefined
    this.surveyed = undefined
    this.linked = undefined
    this.surroundings.post({ type: 'failed', version: this.version, message: messageOf(error) })
  }
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error)
}

/** Which addresses came in the place of which; most reports change none of the many. */
function addressesSince(before: readonly Addressed[], after: readonly Addressed[]): Spliced<string> {
  const { between, ...stay } = spliced(before, after, (one, other) => one.address === other.address)
  return { ...stay, between: between.map(({ address }) => address) }
}
