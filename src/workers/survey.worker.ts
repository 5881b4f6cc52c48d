import { Bearings } from '../core/survey/questions/bearing'
import { findRoute } from '../core/survey/questions/find-route'
import { pointsOfNoReturn } from '../core/survey/questions/no-return'
import { provenMend } from '../core/survey/questions/mends'
import { entryValues, valuesSet } from '../core/survey/questions/entry-values'
import { callSheet } from '../core/survey/questions/quests/call-sheet'
import { meetings } from '../core/survey/questions/quests/meetings'
import { questFacts } from '../core/survey/questions/quests/quest-facts'
import { readingList } from '../core/survey/questions/reading-list'
import { surveyDifference } from '../core/survey/questions/difference'
import type { Finding } from '../core/survey/findings/finding'
import type { SurveyResult } from '../core/survey/result'
import { Survey, surveyStory } from '../core/survey/survey'
import { whyNot } from '../core/survey/questions/why-not'
import { applyChange } from '../core/story/changes/apply'
import { linkStory } from '../core/story/link'
import { sameVerdicts } from '../core/story/verdict-key'
import type { LinkedStory } from '../core/story/linked'
import type { Story } from '../core/story/types'
import type { Compared, FromSurvey, ToSurvey } from './protocol'
import { spliced } from './spliced'
import { warmUp } from './warm-up'

/** How long the survey works between two looks at its messages, in milliseconds. */
const SLICE_MS = 25
/** After this long, or this many bytes, it answers with what is decided. */
const TIME_MS = 30_000
const MEMORY_BYTES = 1_500_000_000
const PROGRESS_MS = 200
/** A survey that answers a question about another story takes no longer. */
const ASIDE_MS = 5_000
/** A reading list and a call sheet may take longer: somebody asked for them. */
const READING_MS = 10_000
const STRIDE = 512
/** Routes to what is reached are told when they are asked for. */
const ON_REQUEST = { routes: 'asked' } as const

const NOTHING_TOLD: {
  readonly beats: readonly string[]
  readonly choices: readonly string[]
  readonly findings: readonly Finding[]
} = { beats: [], choices: [], findings: [] }

let story: Story | undefined
let version = 0
let surveyed: Story | undefined
let linked: LinkedStory | undefined
let running: { readonly survey: Survey; readonly since: number; told: number } | undefined
let finished: Finished | undefined
/** What the page knows of the last report. */
let told = NOTHING_TOLD
let watched: string | undefined
let ticking = false
/** Goes on until the first story comes. */
let warming: Generator<void, void> | undefined = warmUp()

interface Finished {
  readonly survey: Survey
  readonly bearings: Bearings
  readonly version: number
  /** In full, when a question asks for it. */
  result?: SurveyResult
}

const post = (message: FromSurvey) => postMessage(message)

// Messages to oneself come in turn with the page's, so an edit is heard between two slices.
const turn = new MessageChannel()
turn.port1.onmessage = slice
tick()

addEventListener('message', ({ data }: MessageEvent<ToSurvey>) => {
  try {
    hear(data)
  } catch (error) {
    fail(error)
  }
})

/** Questions about the story as it is now wait until its survey is finished. */
const WAITING: ReadonlySet<ToSurvey['type']> = new Set<ToSurvey['type']>([
  'why',
  'route-to',
  'route-of',
  'quest-facts',
  'entry-values',
  'mend',
  'reading-list',
  'no-return',
])
let later: ToSurvey[] = []

function hear(message: ToSurvey): void {
  if (running !== undefined && WAITING.has(message.type)) {
    later.push(message)
    return
  }
  switch (message.type) {
    case 'open':
      warming = undefined
      story = JSON.parse(message.story) as Story
      version = message.version
      return begin()
    case 'change': {
      const applied = applyChange(story!, message.change)
      if (!applied.ok) throw new Error(applied.error)
      story = applied.value.story
      version = message.version
      if (surveyed === undefined || !sameVerdicts(surveyed, story)) return begin()
      surveyed = story
      if (running !== undefined) return
      // what was found holds for the story as it is now
      if (finished !== undefined) finished = { ...finished, version }
      return post({ type: 'unchanged', version })
    }
    case 'stop':
      if (running !== undefined) finish()
      return
    case 'close':
      forget()
      return post({ type: 'closed', version })
    case 'watch':
      watched = message.beat
      return sendBearing()
    case 'why':
      if (finished !== undefined)
        post({ type: 'why', version: finished.version, answer: whyNot(finished.survey, message.address) })
      return
    case 'what-if': {
      const applied = applyChange(story!, message.change)
      const outcome: Compared = applied.ok
        ? compared(result() ?? surveyAside(story!), surveyAside(applied.value.story))
        : { ok: false, message: applied.error }
      return post({ type: 'answer', request: message.request, answer: outcome })
    }
    case 'compare':
      return post({
        type: 'answer',
        request: message.request,
        answer: compared(surveyAside(message.before), surveyAside(message.after)),
      })
    case 'find': {
      return post({
        type: 'answer',
        request: message.request,
        answer: findRoute(story!, message.condition, within(ASIDE_MS)),
      })
    }
    case 'route-to':
      return post({
        type: 'answer',
        request: message.request,
        answer: finished?.survey.routeTo(message.what, message.address),
      })
    case 'route-of':
      return post({
        type: 'answer',
        request: message.request,
        answer: finished?.survey.routeOf(message.kind, message.key),
      })
    case 'quest-facts':
      return post({
        type: 'answer',
        request: message.request,
        answer: finished === undefined ? undefined : questFacts(finished.survey),
      })
    case 'call-sheet': {
      const stop = within(READING_MS)
      return post({
        type: 'answer',
        request: message.request,
        answer:
          message.axis === undefined
            ? meetings(story!, stop)
            : callSheet(linkStory({ ...story!, promises: [], routes: [] }), message.axis, stop),
      })
    }
    case 'entry-values': {
      const every = entryValues(linkStory({ ...story!, promises: [], routes: [] }), within(ASIDE_MS))
      return post({
        type: 'answer',
        request: message.request,
        answer: every ?? (finished === undefined ? undefined : valuesSet(finished.survey)),
      })
    }
    case 'mend': {
      // what was found in an earlier state of the story is mended no more
      const known = result()
      return post({
        type: 'answer',
        request: message.request,
        answer: known && provenMend(story!, message.finding, finished!.survey, known, surveyAside),
      })
    }
    case 'reading-list':
      return post({
        type: 'answer',
        request: message.request,
        answer: finished === undefined ? undefined : readingList(finished.survey, within(READING_MS)),
      })
    case 'no-return':
      return post({
        type: 'answer',
        request: message.request,
        answer: finished === undefined ? [] : pointsOfNoReturn(finished.survey),
      })
  }
}

/** The result of the story as it is now, if it has been surveyed. */
function result(): SurveyResult | undefined {
  if (finished === undefined || finished.version !== version) return undefined
  return (finished.result ??= finished.survey.result())
}

/** Says when so many milliseconds are over. */
function within(limit: number): () => boolean {
  const since = performance.now()
  return () => performance.now() - since > limit
}

function surveyAside(other: Story): SurveyResult {
  return surveyStory(linkStory(other, linked), ON_REQUEST, within(ASIDE_MS))
}

function compared(before: SurveyResult, after: SurveyResult): Compared {
  return { ok: true, complete: before.complete && after.complete, difference: surveyDifference(before, after) }
}

function begin(): void {
  const since = performance.now()
  surveyed = story
  linked = linkStory(story!, linked)
  // the survey of the story before the edit gives what it knows to the next, and answers no more
  const before = running?.survey ?? finished?.survey
  finished = undefined
  running = { survey: new Survey(linked, ON_REQUEST, before), since, told: since }
  tick()
}

function tick(): void {
  if (ticking) return
  ticking = true
  turn.port2.postMessage(0)
}

function slice(): void {
  ticking = false
  if (warming !== undefined) {
    if (warming.next().done === true) warming = undefined
    else tick()
  }
  if (running === undefined) return
  try {
    const { survey, since } = running
    const start = performance.now()
    while (performance.now() - start < SLICE_MS) if (survey.advance(STRIDE)) return finish()
    if (start - since > TIME_MS || survey.progress.bytes > MEMORY_BYTES) return finish()
    if (start - running.told > PROGRESS_MS) {
      running.told = start
      const { states, waiting } = survey.progress
      post({ type: 'progress', version, states, waiting })
    }
    tick()
  } catch (error) {
    fail(error)
  }
}

function finish(): void {
  const { survey, since } = running!
  running = undefined
  const { findings, ...rest } = survey.tell()
  const { beats, choices } = survey.story
  const addresses =
    isCalled(beats, told.beats) && isCalled(choices, told.choices)
      ? undefined
      : { beats: beats.map(({ address }) => address), choices: choices.map(({ address }) => address) }
  post({
    type: 'report',
    version,
    report: {
      ...rest,
      findings: spliced(told.findings, findings),
      ...(addresses && { addresses }),
      took: performance.now() - since,
    },
  })
  told = { ...told, ...addresses, findings }
  finished = { survey, bearings: new Bearings(survey), version }
  sendBearing()
  answerLater()
}

/** As if just started; what has run often stays quick. */
function forget(): void {
  story = undefined
  surveyed = undefined
  linked = undefined
  running = undefined
  finished = undefined
  watched = undefined
  later = []
  told = NOTHING_TOLD
}

function isCalled(things: readonly { readonly address: string }[], addresses: readonly string[]): boolean {
  return things.length === addresses.length && things.every(({ address }, at) => address === addresses[at])
}

function answerLater(): void {
  const questions = later
  later = []
  for (const question of questions) hear(question)
}

function sendBearing(): void {
  if (finished === undefined || watched === undefined) return
  post({ type: 'bearing', version: finished.version, bearing: finished.bearings.of(watched) })
}

function fail(error: unknown): void {
  running = undefined
  post({ type: 'failed', version, message: error instanceof Error ? error.message : String(error) })
  answerLater()
}
