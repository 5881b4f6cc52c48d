import { jest } from '@jest/globals'
import { ok } from '../core/base/result'
import type { Carried } from '../core/survey/carry/carried'
import type { Story } from '../core/story/types'
import { newStory } from '../core/story/new-story'
import { ReleasedWatch, type Released } from './released'

const at = (title: string): Story => newStory(title, 'en')
const version = (revision: number, releasedAt: string | null) => ({
  id: `v${revision}`,
  revision,
  name: `${revision}.0`,
  madeAt: '',
  releasedAt,
})

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

const settle = (ms: number) => jest.advanceTimersByTimeAsync(ms)

function watch(versions: ReturnType<typeof version>[]) {
  let now = { story: at('now'), isSettled: true }
  let told: readonly Released[] = []
  const asked: string[] = []
  let answering: Promise<void> = Promise.resolve()
  const watching = new ReleasedWatch(
    'one',
    versions.filter(({ releasedAt }) => releasedAt !== null),
    () => now,
    async (before, after) => {
      asked.push(`${before.title} ${after.title}`)
      await answering
      return ok({ complete: true, findings: [] } as unknown as Carried)
    },
    (released) => (told = released),
    {
      history: () => Promise.resolve(ok({ steps: [], versions, revision: 9 })),
      at: (_: string, revision: number) => Promise.resolve(ok({ story: at(`v${revision}`) })),
    },
  )
  return {
    watching,
    asked,
    told: () => told,
    edit: (title: string, isSettled = true) => {
      now = { ...now, story: at(title), isSettled }
      watching.touch()
    },
    hold: () => {
      let go = () => {}
      answering = new Promise((resolve) => (go = resolve))
      return go
    },
  }
}

test('released versions are looked at once it is quiet, each once for a story, and never the others', async () => {
  const { asked, told, edit, watching } = watch([version(4, '2026-01-01'), version(3, null), version(2, '2026-01-01')])
  await settle(2_000)
  expect(asked).toEqual(['v4 now', 'v2 now'])
  expect(told().map(({ name, isFresh }) => `${name} ${isFresh}`)).toEqual(['4.0 true', '2.0 true'])
  edit('a')
  expect(told().every(({ isFresh, carried }) => !isFresh && carried !== undefined)).toBe(true)
  await settle(500)
  edit('b')
  await settle(1_000)
  expect(asked).toHaveLength(2)
  await settle(1_000)
  expect(asked.slice(2)).toEqual(['v4 b', 'v2 b'])
  // while the survey goes on nothing is begun
  edit('c', false)
  await settle(5_000)
  expect(asked).toHaveLength(4)
  edit('c')
  watching.close()
  await settle(5_000)
  expect(asked).toHaveLength(4)
})

test('an edit in the middle is looked at afterwards, and what was found before it is not told as of now', async () => {
  const { asked, told, edit, hold } = watch([version(4, '2026-01-01')])
  const go = hold()
  await settle(2_000)
  edit('next')
  await settle(60_000)
  expect(asked).toEqual(['v4 now'])
  go()
  await settle(1)
  expect(told()[0]).toMatchObject({ isFresh: false })
  await settle(200_000)
  expect(asked).toEqual(['v4 now', 'v4 next'])
  expect(told()[0]).toMatchObject({ isFresh: true })
})

test('a version that is released while others are looked at is looked at afterwards', async () => {
  const versions = [version(4, '2026-01-01')]
  const { asked, told, hold, watching } = watch(versions)
  const go = hold()
  await settle(2_000)
  versions.unshift(version(5, '2026-01-02'))
  await watching.read()
  await settle(60_000)
  expect(asked).toEqual(['v4 now'])
  go()
  await settle(200_000)
  expect(asked).toEqual(['v4 now', 'v5 now'])
  expect(told().map(({ name, isFresh }) => `${name} ${isFresh}`)).toEqual(['5.0 true', '4.0 true'])
})
