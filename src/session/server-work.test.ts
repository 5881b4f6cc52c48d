import { jest } from '@jest/globals'
import { fail, ok } from '../core/base/result'
import type { Job, JobAsk, Jobs } from '../core/contract/jobs'
import { newStory } from '../core/story/new-story'
import type { SimulationResult } from '../core/simulate/result'
import type { FarSurvey } from '../core/survey/far-survey'
import { ServerWork } from './server-work'

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())
const settle = (ms = 0) => jest.advanceTimersByTimeAsync(ms)

const job = (id: string, kind: JobAsk['kind'], revision: number, state: Job['state'] = 'done'): Job => ({
  id,
  ask: { kind } as JobAsk,
  revision,
  state,
  done: 0,
  total: 0,
  by: null,
  madeAt: '2026-01-01T03:00:00Z',
  endedAt: state === 'done' ? '2026-01-01T03:00:09Z' : null,
  failure: null,
})

function working(first: readonly Job[]) {
  let jobs: Jobs = { jobs: first, workers: 1 }
  let now = { story: newStory('now', 'en'), revision: 4 as number | undefined, isCutShort: true }
  const heard: string[] = []
  let asked = 0
  let answering: Promise<void> = Promise.resolve()
  const work = new ServerWork(
    'one',
    {
      changed: () => undefined,
      look: () => now,
      survey: (_, took) => {
        heard.push(`survey ${took}`)
        now = { ...now, isCutShort: false }
      },
      carried: () => heard.push('carried'),
      figures: (_, story) => heard.push(`figures of ${story.title}`),
    },
    {
      list: () => {
        asked += 1
        return Promise.resolve(ok(jobs))
      },
      begin: () => Promise.resolve(ok({ id: 'new' })),
      cancel: () => Promise.resolve(ok({})),
      survey: async () => {
        await answering
        return ok({} as FarSurvey)
      },
      carried: () => Promise.resolve(ok([])),
      figures: () => Promise.resolve(ok({} as SimulationResult)),
    },
    {
      at: (_, revision) =>
        Promise.resolve(
          revision === 2
            ? ok({ story: newStory('then', 'en') })
            : fail({ kind: 'away', message: 'The server can not be reached.' }),
        ),
    },
  )
  return {
    work,
    heard,
    asked: () => asked,
    set: (next: readonly Job[]) => (jobs = { jobs: next, workers: 1 }),
    look: (part: Partial<typeof now>) => (now = { ...now, ...part }),
    hold: () => {
      let go = () => {}
      answering = new Promise((resolve) => (go = resolve))
      return () => go()
    },
  }
}

test('a longer survey is taken over where the page left its own off, of the story as it is saved, and of no other', async () => {
  const of = working([job('a', 'survey', 3)])
  await of.work.read()
  await settle()
  expect(of.heard).toEqual([])
  of.set([job('b', 'survey', 4), job('a', 'survey', 3)])
  of.look({ isCutShort: false })
  await of.work.read()
  await settle()
  expect(of.heard).toEqual([])
  // not everything is saved
  of.look({ isCutShort: true, revision: undefined })
  of.work.touch()
  await settle()
  expect(of.heard).toEqual([])
  of.look({ revision: 4 })
  of.work.touch()
  await settle()
  expect(of.heard).toEqual(['survey 9000'])
  // the page's own survey was begun anew, and cut short again
  of.look({ isCutShort: true })
  of.work.touch()
  await settle()
  expect(of.heard).toEqual(['survey 9000', 'survey 9000'])
})

test('what comes back after another edit is let go', async () => {
  const of = working([job('a', 'survey', 4)])
  const go = of.hold()
  await of.work.read()
  of.look({ story: newStory('edited', 'en') })
  go()
  await settle()
  expect(of.heard).toEqual([])
})

test('saves are taken over once; figures are shown of the story that was played', async () => {
  const of = working([job('c', 'carry', 4), job('p', 'simulate', 2), job('q', 'simulate', 4)])
  await of.work.read()
  await settle()
  of.work.touch()
  await settle()
  expect(of.heard).toEqual(['carried'])
  expect(await of.work.show(job('p', 'simulate', 2))).toBeUndefined()
  expect(await of.work.show(job('q', 'simulate', 4))).toBeUndefined()
  expect(of.heard).toEqual(['carried', 'figures of then', 'figures of now'])
  expect(await of.work.show(job('r', 'simulate', 1))).toBe('The story as it was then could not be read.')
})

test('it looks again for as long as something is under way, and when the server says so; who never looked is not bothered', async () => {
  const of = working([job('a', 'simulate', 4, 'running')])
  of.work.hear()
  await settle(5_000)
  expect(of.asked()).toBe(0)
  await of.work.read()
  await settle(2_500)
  expect(of.asked()).toBe(3)
  of.set([job('a', 'simulate', 4)])
  await settle(1_000)
  const then = of.asked()
  await settle(10_000)
  expect(of.asked()).toBe(then)
  of.work.hear()
  await settle()
  expect(of.asked()).toBe(then + 1)
  of.set([job('a', 'simulate', 4, 'waiting')])
  await of.work.begin({ kind: 'survey' })
  of.work.close()
  await settle(10_000)
  expect(of.asked()).toBe(then + 2)
})
