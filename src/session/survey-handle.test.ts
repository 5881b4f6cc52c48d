import { readFileSync } from 'node:fs'
import { jest } from '@jest/globals'
import { ok } from '../core/base/result'
import type { Story } from '../core/story/types'
import type { FromSurvey, ToSurvey } from '../workers/protocol'
import { SurveyHost } from '../workers/survey-host'
import { linkStory } from '../core/story/link'
import { keptSurvey, recalledSurvey } from '../core/survey/kept-survey'
import { seededRandom } from '../core/base/random'
import { Survey, surveyStory } from '../core/survey/survey'
import { seeds } from '../../test/seeds'
import { shortStory } from '../../test/short-story'
import { prepareSurvey, SurveyHandle, type SurveyState } from './survey-handle'

const sample = JSON.parse(readFileSync('samples/causeway.story.json', 'utf8')) as Story

/** A worker that runs here, when it is told to. */
class FakeWorker {
  static made: FakeWorker[] = []
  onmessage: ((event: { data: FromSurvey }) => void) | undefined
  onerror: ((event: { message: string }) => void) | undefined
  onmessageerror: (() => void) | undefined
  readonly posted: ToSurvey[] = []
  /** What it says is on its way until it is brought. */
  isSlow = false
  ended = false
  private readonly said: FromSurvey[] = []
  private readonly host = new SurveyHost({
    post: (message) => {
      this.said.push(structuredClone(message))
      if (!this.isSlow) this.bring()
    },
    now: () => 0,
  })

  constructor() {
    FakeWorker.made.push(this)
  }

  postMessage(message: ToSurvey): void {
    this.posted.push(message)
  }

  /** Hears what was posted and does all of it. */
  work(): void {
    for (const message of this.posted.splice(0)) this.host.hear(message)
    while (this.host.slice());
  }

  /** Hears the next of what was posted, and works a while. */
  workABit(): void {
    for (const message of this.posted.splice(0, 1)) this.host.hear(message)
    this.host.slice()
  }

  /** Whoever listens hears the next thing that it said, if there is one. */
  bring(): boolean {
    const next = this.said.shift()
    if (next !== undefined) this.onmessage?.({ data: next })
    return next !== undefined
  }

  terminate(): void {
    this.ended = true
  }
}

const before = globalThis.Worker
beforeEach(() => {
  FakeWorker.made = []
  globalThis.Worker = FakeWorker as never
})
afterEach(() => {
  globalThis.Worker = before
})

function opened(story = sample) {
  const states: SurveyState[] = []
  const handle = new SurveyHandle(
    (state) => void states.push(state),
    () => story,
  )
  const worker = FakeWorker.made.at(-1)!
  handle.open(story)
  return { handle, worker, states, now: () => states.at(-1)! }
}

test('the page knows what the survey says, and what it said before the last edit', () => {
  const { handle, worker, now } = opened()
  expect(now().running).toEqual({ states: 0, waiting: 0 })
  worker.work()
  const first = now().report!
  expect(now().running).toBeUndefined()
  expect(Object.keys(first.reached.endings)).toHaveLength(sample.endings!.length)
  const scene = sample.scenes[0]!
  const [item] = scene.beats
  handle.change({
    op: 'replace',
    in: { list: 'beats', scene: scene.id },
    id: item!.id,
    at: 0,
    item: { id: item!.id },
  })
  expect(now().running).toBeDefined()
  worker.work()
  expect(now().before).toBe(first)
  expect(now().report!.unreached.endings.length).toBeGreaterThan(0)
})

test('what is answered to an earlier edit is overtaken; a bearing is taken whenever it comes', () => {
  const { handle, worker, now } = opened()
  worker.work()
  const { report } = now()
  const hear = (data: FromSurvey) => worker.onmessage!({ data })
  handle.change({ op: 'set-story', values: { title: 'Another title' } })
  const waiting = now().running
  hear({ type: 'progress', version: 1, states: 77, waiting: 7 })
  hear({ type: 'unchanged', version: 1 })
  hear({ type: 'failed', version: 1, message: 'of before' })
  expect(now()).toMatchObject({ running: waiting, report, failure: undefined })
  hear({ type: 'progress', version: 2, states: 77, waiting: 7 })
  expect(now().running).toEqual({ states: 77, waiting: 7 })
  hear({ type: 'bearing', version: 1, bearing: { ok: false, error: 'no time' } })
  expect(now().bearingFailure).toBe('no time')
  hear({ type: 'unchanged', version: 2 })
  expect(now()).toMatchObject({ running: undefined, report })
})

test('however edits, work and answers come in between, the page ends with the survey of the story as it is then', () => {
  const short = shortStory('On its way', 'Here.')
  const said = (story: Story) => {
    const survey = new Survey(linkStory(story), { routes: 'none' })
    while (!survey.advance(64));
    return survey.brief()
  }
  let overtaken = 0
  for (const seed of seeds(300)) {
    const random = seededRandom(seed)
    let story: Story = short
    const { handle, worker, now } = opened(story)
    worker.isSlow = true
    if (random.chance(0.3)) handle.recall(recalledSurvey(keptSurvey(said(story), 7, 'this')!, story, 'this')!.far, 7)
    for (let step = 0; step < 12; step += 1) {
      if (random.chance(0.3)) {
        const values: Record<string, string> = random.chance(0.6)
          ? { title: `Title ${step}` }
          : { start: random.pick(['quay.here', 'quay.end', 'nowhere.at_all']) }
        story = { ...story, ...values }
        handle.change({ op: 'set-story', values })
      } else if (random.chance(0.5)) worker.workABit()
      else if (worker.bring() && now().running !== undefined) overtaken += 1
    }
    worker.work()
    while (worker.bring());
    expect({ seed, running: now().running, says: now().report?.brief }).toEqual({
      seed,
      running: undefined,
      says: said(story),
    })
    // what an edit did is told by two surveys of different stories
    expect(now().before).not.toBe(now().report)
    handle.close()
    worker.terminate()
  }
  expect(overtaken).toBeGreaterThan(30)
})

test('each beat, choice, ending and stage is said to be what the whole survey says it is', () => {
  const { worker, now } = opened()
  worker.work()
  const report = now().report!
  const whole = surveyStory(linkStory(sample), { routes: 'none' })
  for (const what of ['beats', 'choices', 'endings', 'stages'] as const) {
    for (const address of Object.keys(whole.reached[what])) expect(report.of(what, address)).toBe('reached')
    for (const address of whole.unreached[what]) expect(report.of(what, address)).toBe('unreached')
    expect(report.of(what, 'nowhere.at_all')).toBe('waiting')
    expect([...report.unreached[what]].sort()).toEqual([...whole.unreached[what]].sort())
    expect(report.undecided[what]).toEqual([])
  }
  expect(report.findings.map(({ kind, key }) => `${kind} ${key.join(' ')}`)).toEqual(
    whole.findings.map(({ kind, key }) => `${kind} ${key.join(' ')}`),
  )
  for (const finding of whole.findings)
    if (finding.key[0]!.includes('#'))
      expect(report.at(finding.key[0]!).map(({ kind }) => kind)).toContain(finding.kind)
})

/** What the survey of the sample says, and what is recalled of it once it was kept. */
function surveyedBefore() {
  const { worker, now } = opened()
  worker.work()
  const known = now().report!
  return { known, far: recalledSurvey(keptSurvey(known.brief, 7, 'this')!, sample, 'this')!.far }
}

test('what was kept is shown while the story is surveyed anew, and holds until an edit', () => {
  const { known, far } = surveyedBefore()
  const { handle, worker, now } = opened()
  handle.recall(far, 7)
  const recalled = now().report!
  expect(now()).toMatchObject({ running: undefined, before: undefined })
  expect(recalled.brief).toEqual(known.brief)
  const hear = (data: FromSurvey) => worker.onmessage!({ data })
  hear({ type: 'progress', version: 1, states: 77, waiting: 7 })
  expect(now().running).toBeUndefined()
  worker.work()
  // found here now, and as nothing is different, nothing is shown or asked anew
  expect(now()).toMatchObject({ running: undefined, before: undefined })
  expect(now().report).toBe(recalled)

  const next = opened()
  next.handle.recall(far, 7)
  const before = next.now().report
  next.handle.change({ op: 'set-story', values: { start: 'nowhere.at_all' } })
  expect(next.now().running).toBeDefined()
  next.worker.onmessage!({ data: { type: 'progress', version: 2, states: 77, waiting: 7 } })
  expect(next.now().running).toEqual({ states: 77, waiting: 7 })
  next.worker.work()
  expect(next.now().before).toBe(before)
  expect(next.now().report!.unreached.endings.length).toBeGreaterThan(0)
})

test('what was kept and is wrong gives way to what is found', () => {
  const { known, far } = surveyedBefore()
  const { handle, worker, now } = opened()
  handle.recall({ ...far, brief: { ...far.brief, beats: far.brief.beats.map(() => 0) } }, 7)
  expect(now().report!.unreached.beats).toHaveLength(known.beats)
  worker.work()
  expect(now().report!.brief).toEqual(known.brief)
  // no edit made the difference
  expect(now().before).toBeUndefined()
})

test('a survey that is cut short does not take the place of what was kept', () => {
  const { far } = surveyedBefore()
  const { handle, worker, now } = opened()
  handle.recall(far, 7)
  const recalled = now().report
  handle.stop()
  worker.work()
  expect(now()).toMatchObject({ running: undefined, report: { complete: true } })
  expect(now().report).toBe(recalled)
})

test('a question is posted, answered, and forgotten', async () => {
  const { handle, worker } = opened()
  const asked = handle.ask('route-to', { what: 'endings', address: 'across' })
  expect(worker.posted).toMatchObject([{ type: 'open' }, { type: 'ask', name: 'route-to' }])
  worker.work()
  const answer = await asked
  expect(answer.ok && answer.value!.length).toBeGreaterThan(0)
})

test('that a question takes long is known until it is answered, or whoever asked has left', async () => {
  const { handle, worker, now } = opened()
  worker.work()
  const leaving = new AbortController()
  const left = handle.ask('reading-list', {}, leaving.signal)
  const stays = handle.ask('no-return', {})
  const tell = (request: number) =>
    worker.onmessage!({ data: { type: 'answering', request, name: 'reading-list', took: 2500 } })
  tell(1)
  expect(now().answering).toEqual({ request: 1, name: 'reading-list', took: 2500 })
  handle.change({ op: 'set-story', values: { title: 'Another title' } })
  expect(now().answering).toBeUndefined()
  tell(1)
  leaving.abort()
  expect(worker.posted.at(-1)).toEqual({ type: 'withdraw', request: 1 })
  worker.work()
  expect(await left).toEqual({ ok: false, error: 'it was stopped' })
  expect((await stays).ok).toBe(true)
  expect(now().answering).toBeUndefined()
  // too late
  tell(1)
  expect(now().answering).toBeUndefined()
  const posted = worker.posted.length
  handle.withdraw(1)
  expect(worker.posted).toHaveLength(posted)
})

test('a worker that ends by an error leaves nobody waiting, and says so', async () => {
  const { handle, worker, now } = opened()
  const asked = [handle.ask('no-return', {}), handle.ask('reading-list', {})]
  worker.onerror!({ message: 'out of memory' })
  expect(await Promise.all(asked)).toEqual([
    { ok: false, error: 'out of memory' },
    { ok: false, error: 'out of memory' },
  ])
  expect(now()).toMatchObject({ failure: 'out of memory', running: undefined })
  expect(worker.ended).toBe(true)
  expect(await handle.ask('no-return', {})).toEqual({ ok: false, error: 'the survey is not running' })
  handle.close()
})

test('a worker that failed is started anew by itself and surveys the story as it is then; one that fails each time waits for an edit', () => {
  jest.useFakeTimers()
  const { handle, worker, now } = opened()
  handle.watch('quay.morning')
  worker.work()
  worker.onerror!({ message: 'out of memory' })
  jest.advanceTimersByTime(1_000)
  const second = FakeWorker.made.at(-1)!
  expect(second).not.toBe(worker)
  expect(now().running).toBeDefined()
  second.work()
  expect(now()).toMatchObject({ failure: undefined, running: undefined, bearing: { address: 'quay.morning' } })
  expect(Object.keys(now().report!.reached.endings)).toHaveLength(sample.endings!.length)
  for (let made = FakeWorker.made.length; made < 20; made += 1) {
    FakeWorker.made.at(-1)!.onerror!({ message: 'out of memory' })
    jest.advanceTimersByTime(10_000)
  }
  // the one that answered, and two that did not
  expect(FakeWorker.made).toHaveLength(4)
  expect(now()).toMatchObject({ failure: 'out of memory', running: undefined })
  handle.change({ op: 'set-story', values: { title: 'New' } })
  const last = FakeWorker.made.at(-1)!
  expect(FakeWorker.made).toHaveLength(5)
  last.work()
  expect(now()).toMatchObject({ failure: undefined, running: undefined })
  handle.close()
  jest.useRealTimers()
})

test('an answer that can not be read ends the survey with a reason', async () => {
  const { handle, worker, now } = opened()
  const asked = handle.ask('no-return', {})
  worker.onmessageerror!()
  expect((await asked).ok).toBe(false)
  expect(now().failure).toMatch(/could not be read/)
  handle.close()
})

test('closing answers whoever waits; a worker that is busy is ended', async () => {
  const { handle, worker } = opened()
  const asked = handle.ask('no-return', {})
  handle.close()
  expect(await asked).toEqual({ ok: false, error: 'the story was closed' })
  expect(worker.ended).toBe(true)
})

test('a worker that has nothing to do is kept for the next story', () => {
  const { handle, worker, now } = opened()
  worker.work()
  expect(now().failure).toBeUndefined()
  handle.close()
  worker.work()
  expect(worker.ended).toBe(false)
  const made = FakeWorker.made.length
  const next = opened()
  expect(FakeWorker.made).toHaveLength(made)
  expect(next.worker).toBe(worker)
  next.worker.work()
  expect(next.now().report).toBeDefined()
})

test('a worker is started beforehand once, and one that fails then is not used', () => {
  prepareSurvey()
  prepareSurvey()
  expect(FakeWorker.made).toHaveLength(1)
  FakeWorker.made[0]!.onerror!({ message: 'blocked' })
  opened()
  expect(FakeWorker.made).toHaveLength(2)
})

test('a bearing that fails is told apart from none', () => {
  const { handle, worker, now } = opened()
  handle.watch('quay.morning')
  worker.work()
  expect(now().bearing?.address).toBe('quay.morning')
  worker.onmessage!({ data: { type: 'bearing', version: 1, bearing: { ok: false, error: 'too deep' } } })
  expect(now()).toMatchObject({ bearing: undefined, bearingFailure: 'too deep' })
  worker.onmessage!({ data: { type: 'bearing', version: 1, bearing: ok(undefined) } })
  expect(now().bearingFailure).toBeUndefined()
})
