import { spliced } from '../core/base/spliced'
import { jest } from '@jest/globals'
import type { Story } from '../core/story/types'

/** A page without a browser: storage, a worker that keeps silent, and a server that can be away. */
const stored = new Map<string, string>()
const posted: unknown[] = []
const workers: { onmessage: ((event: { data: unknown }) => void) | undefined }[] = []
// as a built program has it
process.env.SURVEYOR = 'this'
Object.assign(globalThis, {
  localStorage: {
    getItem: (name: string) => stored.get(name) ?? null,
    setItem: (name: string, value: string) => void stored.set(name, value),
    removeItem: (name: string) => void stored.delete(name),
  },
  Worker: class {
    onmessage: ((event: { data: unknown }) => void) | undefined
    constructor() {
      workers.push(this)
    }
    addEventListener() {}
    postMessage(message: unknown) {
      posted.push(message)
    }
    terminate() {}
  },
})

const { StorySession } = await import('./story-session')
const { keptSurvey } = await import('../core/survey/kept-survey')
const { linkStory } = await import('../core/story/link')
const { Survey } = await import('../core/survey/survey')

const story: Story = {
  paperCompass: 1,
  title: 'Session',
  language: 'en',
  start: 'quay.here',
  endings: [],
  scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here' }] }],
}
const opened = {
  role: 'owner' as const,
  since: null,
  released: [],
  survey: null,
  id: 'one',
  sample: false,
  story,
  revision: 0,
  canUndo: false,
  canRedo: false,
}
const rename = (title: string) => ({ op: 'set-story', values: { title } }) as const

type Answer = { status: number; body: unknown } | 'away'
let answers: Answer[] = []
let revision = 0
const sent: { path: string; body: { change?: unknown; request?: string } }[] = []

beforeEach(() => {
  jest.useFakeTimers()
  stored.clear()
  sent.length = 0
  answers = []
  revision = 0
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    sent.push({ path, body: init?.body === undefined ? {} : (JSON.parse(String(init.body)) as object) })
    const answer = answers.shift() ?? {
      status: 200,
      body: { revision: (revision += 1), change: rename('x'), summary: '', canUndo: true, canRedo: false },
    }
    if (answer === 'away') throw new TypeError('failed to fetch')
    return new Response(JSON.stringify(answer.body), { status: answer.status })
  }) as typeof fetch
})

afterEach(() => {
  jest.useRealTimers()
})

const settle = () => jest.advanceTimersByTimeAsync(0)

test('an edit shows at once, is saved, and the survey hears of it', async () => {
  const session = new StorySession('one', opened)
  session.edit(rename('New'))
  expect(session.getState()).toMatchObject({ story: { title: 'New' }, saving: { kind: 'saving' }, canUndo: true })
  await settle()
  expect(session.getState().saving).toEqual({ kind: 'saved' })
  expect(posted.at(-1)).toMatchObject({ type: 'change', change: rename('New') })
  session.close()
})

test('what was kept of a survey shows at once; what this page finds is kept when one pauses', async () => {
  const survey = new Survey(linkStory(story))
  while (!survey.advance());
  const kept = keptSurvey(survey.brief(), 7, 'this')!
  const session = new StorySession('one', { ...opened, survey: kept })
  expect(session.getState().survey.report).toBeUndefined()
  session.recall()
  expect(session.getState().survey).toMatchObject({ running: undefined, report: { complete: true, took: 7 } })
  const { findings, ...brief } = survey.brief()
  const addresses = { beats: spliced([], ['quay.here']), choices: spliced([], []) }
  const report = { ...brief, addresses, findings: spliced([], findings), took: 9 }
  await jest.advanceTimersByTimeAsync(60_000)
  expect(sent).toEqual([])
  const tell = () => workers.at(-1)!.onmessage!({ data: { type: 'report', version: 1, report } })
  tell()
  await jest.advanceTimersByTimeAsync(60_000)
  // it says what is kept already
  expect(sent).toEqual([])
  session.close()
  const first = new StorySession('one', opened)
  first.recall()
  tell()
  await jest.advanceTimersByTimeAsync(60_000)
  expect(sent.map(({ path, body }) => ({ path, body }))).toMatchObject([
    { path: '/api/stories/one/facts', body: { revision: 0, facts: { complete: true } } },
    { path: '/api/stories/one/facts', body: { revision: 0, survey: { surveyor: 'this', took: 9 } } },
  ])
  expect(sent[0]!.body).not.toHaveProperty('survey')
  first.close()
  // edits that were not sent yet make it another story
  stored.set('paper-compass.pending.one', JSON.stringify([{ request: 'r-1', change: rename('Kept') }]))
  const later = new StorySession('one', { ...opened, survey: kept })
  later.recall()
  expect(later.getState().survey).toMatchObject({ running: { states: 0 }, report: undefined })
  later.close()
})

test('while the server is away edits are kept, shown as not saved, and sent in order when it answers', async () => {
  const session = new StorySession('one', opened)
  answers = ['away']
  session.edit(rename('First'))
  await settle()
  expect(session.getState().saving).toMatchObject({
    kind: 'failed',
    message: expect.stringContaining('can not be reached'),
  })
  answers = ['away']
  session.edit(rename('Second'))
  expect(session.getState().story.title).toBe('Second')
  expect(JSON.parse(stored.get('paper-compass.pending.one')!)).toHaveLength(2)
  await jest.advanceTimersByTimeAsync(5_000)
  expect(sent.map(({ body }) => body.change)).toMatchObject([
    rename('First'),
    rename('First'),
    rename('First'),
    rename('Second'),
  ])
  // the same request each time, so that it is carried out once
  expect(new Set(sent.slice(0, 3).map(({ body }) => body.request)).size).toBe(1)
  expect(session.getState().saving).toEqual({ kind: 'saved' })
  expect(stored.size).toBe(0)
  session.close()
})

test('edits that a closed page had not sent are made again and sent under their old names', async () => {
  stored.set('paper-compass.pending.one', JSON.stringify([{ request: 'r-1', change: rename('Kept') }]))
  const session = new StorySession('one', opened)
  expect(session.getState().story.title).toBe('Kept')
  await settle()
  expect(sent[0]).toMatchObject({ path: '/api/stories/one/changes', body: { request: 'r-1' } })
  session.close()
})

test('an edit that the server refuses is explained, and the story is read again without it', async () => {
  const session = new StorySession('one', opened)
  answers = [
    { status: 409, body: { message: 'the beat "here" is not there any more' } },
    { status: 200, body: { ...opened, story: { ...story, title: 'Elsewhere' } } },
  ]
  session.edit(rename('Lost'))
  await settle()
  expect(session.getState()).toMatchObject({
    story: { title: 'Elsewhere' },
    saving: { kind: 'saved' },
    notice: expect.stringContaining('not there any more'),
  })
  session.close()
})

test('an edit that can not be made here changes nothing and says why', async () => {
  const session = new StorySession('one', opened)
  expect(session.edit({ op: 'remove', in: { list: 'cast' }, id: 'nobody', at: 0 })).toContain('"nobody"')
  expect(session.getState()).toMatchObject({
    story,
    saving: { kind: 'saved' },
    notice: expect.stringContaining('nobody'),
  })
  await settle()
  expect(sent).toEqual([])
  session.close()
})

test('undo waits until what was typed is saved, and carries out what the server says', async () => {
  const session = new StorySession('one', opened)
  session.edit(rename('Typed'))
  const undone = session.travel('undo')
  await settle()
  await undone
  expect(sent.map(({ path }) => path.split('/').at(-1))).toEqual(['changes', 'undo'])
  expect(session.getState().story.title).toBe('x')
  session.close()
})

test('two windows: what another one saved goes under what is still being typed here, in whatever order it is heard of', async () => {
  const streams: { hear: Map<string, (event: { data: string }) => void> }[] = []
  Object.assign(globalThis, {
    EventSource: class {
      readonly hear = new Map<string, (event: { data: string }) => void>()
      constructor() {
        streams.push(this)
      }
      addEventListener(name: string, hear: (event: { data: string }) => void) {
        this.hear.set(name, hear)
      }
      close() {}
    },
  })
  const session = new StorySession('one', opened)
  const insert = (id: string) => ({ op: 'insert', in: { list: 'beats', scene: 'quay' }, at: 9, item: { id } }) as const
  const tell = (number: number, change: unknown, request: string) =>
    streams[0]!.hear.get('change')!({
      data: JSON.stringify({ revision: number, change, request, summary: '', canUndo: true, canRedo: false }),
    })
  const beats = () => session.getState().story.scenes[0]!.beats.map(({ id }) => id)

  answers = ['away']
  session.edit(insert('mine'))
  await settle()
  const request = sent[0]!.body.request!
  // the second before the first
  tell(2, insert('theirs_too'), 'r-3')
  expect(beats()).toEqual(['here', 'mine'])
  tell(1, insert('theirs'), 'r-2')
  expect(beats()).toEqual(['here', 'theirs', 'theirs_too', 'mine'])
  expect(posted.at(-1)).toMatchObject({ type: 'open' })
  // our own comes by both ways and is there once
  answers = [{ status: 200, body: { revision: 3, change: insert('mine'), summary: '', canUndo: true, canRedo: false } }]
  tell(3, insert('mine'), request)
  await jest.advanceTimersByTimeAsync(5_000)
  expect(beats()).toEqual(['here', 'theirs', 'theirs_too', 'mine'])
  expect(stored.size).toBe(0)
  // one that is alone and comes in order is told to the survey as it is
  tell(4, insert('last'), 'r-4')
  expect(posted.at(-1)).toMatchObject({ type: 'change', change: insert('last') })
  // what never comes is fetched
  answers = [{ status: 200, body: { ...opened, revision: 6, story: { ...story, title: 'Fetched' } } }]
  tell(6, insert('sixth'), 'r-6')
  await jest.advanceTimersByTimeAsync(2_000)
  expect(session.getState().story.title).toBe('Fetched')
  session.close()
  delete (globalThis as { EventSource?: unknown }).EventSource
})

test('every view follows to a beat; one that is gone leads to the first', async () => {
  const session = new StorySession('one', opened)
  session.edit({ op: 'insert', in: { list: 'beats', scene: 'quay' }, at: 1, item: { id: 'there' } })
  session.goTo('quay.there')
  expect(session.getState()).toMatchObject({ scene: 'quay', beat: 'quay.there' })
  session.goTo('quay.gone')
  expect(session.getState().beat).toBe('quay.here')
  session.goTo('nowhere.at_all')
  expect(session.getState().beat).toBe('quay.here')
  session.close()
})
