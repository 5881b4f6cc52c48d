import { jest } from '@jest/globals'
import { beatsOf, insert, Store, story } from '../../test/sync-story'
import { fail, ok, type Result } from '../core/base/result'
import type { Change } from '../core/story/changes/types'
import type { Story } from '../core/story/types'
import type { ApiError } from './api'
import type { Opened, Told } from '../core/contract/answers'
import type { PendingChange } from './pending'
import { StorySync } from './story-sync'

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

/** Answers one after another; whatever is asked beyond them never comes back. */
function scripted(
  opened: Partial<Omit<Opened, 'role' | 'since' | 'released' | 'survey'>> = {},
  kept: readonly PendingChange[] = [],
) {
  const asked: string[] = []
  const waiting: ((answer: Result<never, ApiError>) => void)[] = []
  const ask = (name: string) => () => {
    asked.push(name)
    return new Promise<Result<never, ApiError>>((done) => waiting.push(done))
  }
  const store = new Store()
  store.kept = kept
  const notices: string[] = []
  const by: unknown[] = []
  const sync = new StorySync(
    'one',
    { id: 'one', sample: false, story, revision: 5, canUndo: false, canRedo: true, ...opened },
    { open: ask('open'), change: ask('change'), travel: ask('travel'), returnTo: ask('return') },
    store as never,
    { changed: (_, change) => change !== undefined && by.push(change), notice: (text) => void notices.push(text) },
  )
  const answer = async (value: object) => {
    waiting.shift()!(ok(value) as never)
    await jest.advanceTimersByTimeAsync(0)
  }
  const refuse = async (kind: ApiError['kind'], message: string) => {
    waiting.shift()!(fail({ kind, message }))
    await jest.advanceTimersByTimeAsync(0)
  }
  return { sync, asked, notices, by, store, answer, refuse }
}
const told = (revision: number, change: Change, more: Partial<Told> = {}): Told => ({
  revision,
  change,
  request: `r${revision}`,
  summary: '',
  canUndo: true,
  canRedo: false,
  ...more,
})
const opened = (revision: number, changed: Partial<Story>): Omit<Opened, 'role' | 'since' | 'released' | 'survey'> => ({
  id: 'one',
  sample: false,
  story: { ...story, ...changed },
  revision,
  canUndo: true,
  canRedo: true,
})

test('an edit forgets what could be brought back, and is told as saved only once it is', async () => {
  const { sync, answer, by } = scripted()
  expect(sync.state).toMatchObject({ saving: { kind: 'saved' }, canUndo: false, canRedo: true })
  sync.edit(insert('mine'))
  expect(sync.state).toMatchObject({ saving: { kind: 'saving' }, canUndo: true, canRedo: false })
  expect(by).toEqual([insert('mine')])
  await answer(told(6, insert('mine'), { canUndo: true }))
  expect(sync.state).toMatchObject({ saving: { kind: 'saved' }, canUndo: true, canRedo: false })
  // what changes nothing is no edit
  expect(sync.edit({ op: 'batch', changes: [] })).toBeUndefined()
  expect(by).toHaveLength(1)
  sync.close()
})

test('edits kept from before are shown as being saved from the beginning', () => {
  const { sync } = scripted({}, [{ request: 'kept', change: insert('kept') }])
  expect(sync.state.saving).toEqual({ kind: 'saving' })
  expect(beatsOf(sync.state.story)).toEqual(['here', 'kept'])
  sync.close()
})

test('what another window did is told as one change, or anew where there is more to put together', async () => {
  const { sync, by } = scripted()
  sync.told(told(6, insert('theirs'), { canUndo: true, canRedo: true }))
  expect(by).toEqual([insert('theirs')])
  expect(sync.state).toMatchObject({ canUndo: true, canRedo: true })
  // heard twice it is done once
  sync.told(told(6, insert('theirs')))
  expect(beatsOf(sync.state.story)).toEqual(['here', 'theirs'])
  sync.edit(insert('mine'))
  sync.told(told(7, insert('more'), { canUndo: false }))
  expect(by.slice(1)).toEqual([insert('mine'), 'anew'])
  expect(beatsOf(sync.state.story)).toEqual(['here', 'theirs', 'more', 'mine'])
  // an edit of one's own can be taken back, whatever the other could
  expect(sync.state.canUndo).toBe(true)
  sync.close()
})

test('a change that never comes is waited for, then the story is read; what was heard meanwhile is in it', async () => {
  const { sync, asked, answer, by } = scripted()
  sync.told(told(7, insert('seventh')))
  await jest.advanceTimersByTimeAsync(1_400)
  expect([asked, beatsOf(sync.state.story)]).toEqual([[], ['here']])
  await jest.advanceTimersByTimeAsync(200)
  expect(asked).toEqual(['open'])
  await answer(opened(7, { title: 'Read' }))
  expect(sync.state).toMatchObject({ story: { title: 'Read' }, canUndo: true, canRedo: true })
  expect(by).toEqual(['anew'])
  sync.told(told(7, insert('seventh')))
  expect(sync.state.story.title).toBe('Read')
  expect(beatsOf(sync.state.story)).toEqual(['here'])
  // the next one follows what was read
  sync.told(told(8, insert('eighth')))
  expect(beatsOf(sync.state.story)).toEqual(['here', 'eighth'])
  sync.close()
})

test('a change that comes in time is not read for, nor is a revision that is known', async () => {
  const { sync, asked } = scripted()
  sync.expect(6)
  await jest.advanceTimersByTimeAsync(1_000)
  sync.told(told(6, insert('sixth')))
  sync.expect(6)
  sync.expect(5)
  await jest.advanceTimersByTimeAsync(5_000)
  expect(asked).toEqual([])
  // and nothing is read for a window that is closed
  sync.expect(9)
  sync.close()
  await jest.advanceTimersByTimeAsync(5_000)
  expect(asked).toEqual([])
})

test('a change that does not fit what is here has the story read anew, with a word about it', async () => {
  const { sync, asked, notices, answer } = scripted()
  sync.told(told(6, { op: 'remove', in: { list: 'cast' }, id: 'nobody', at: 0 }))
  await jest.advanceTimersByTimeAsync(0)
  expect(asked).toEqual(['open'])
  await answer(opened(6, { title: 'As it is' }))
  expect(sync.state.story.title).toBe('As it is')
  expect(notices).toEqual(['The story had changed elsewhere and was read again.'])
  sync.close()
})

test('a refused edit is told even where the story can not be read again', async () => {
  const { sync, notices, refuse, store, asked } = scripted()
  sync.edit(insert('mine'))
  await refuse('refused', 'there is no room')
  expect(asked).toEqual(['change', 'open'])
  await refuse('away', 'The server can not be reached.')
  expect(notices).toEqual(['An edit was refused: there is no room The server can not be reached.'])
  expect(store.kept).toEqual([])
  expect(sync.state.saving).toEqual({ kind: 'saved' })
  sync.close()
})

test('while the server is away it says why, asks again every two seconds, and stops when it is closed', async () => {
  const { sync, asked, refuse } = scripted()
  sync.edit(insert('mine'))
  await refuse('away', 'The server can not be reached.')
  expect(sync.state.saving).toEqual({
    kind: 'failed',
    message: 'Not saved: The server can not be reached. Your edits are kept here and sent when it answers again.',
  })
  await jest.advanceTimersByTimeAsync(1_900)
  expect(asked).toEqual(['change'])
  await jest.advanceTimersByTimeAsync(200)
  expect(asked).toEqual(['change', 'change'])
  sync.close()
  await refuse('away', 'The server can not be reached.')
  await jest.advanceTimersByTimeAsync(10_000)
  expect(asked).toEqual(['change', 'change'])
})

test('undo and returning carry out what the server says, and say what can be done after it', async () => {
  const { sync, asked, answer, refuse, notices } = scripted({ canUndo: true })
  const undone = sync.travel('undo')
  await jest.advanceTimersByTimeAsync(0)
  expect(sync.state.saving).toEqual({ kind: 'saving' })
  await answer(told(6, insert('back'), { canUndo: false, canRedo: true }))
  await undone
  expect(sync.state).toMatchObject({ canUndo: false, canRedo: true, saving: { kind: 'saved' } })
  expect(beatsOf(sync.state.story)).toEqual(['here', 'back'])
  const returned = sync.returnTo(2)
  await jest.advanceTimersByTimeAsync(0)
  await refuse('refused', 'that point is gone')
  await returned
  expect([asked, notices, sync.state.saving]).toEqual([['travel', 'return'], ['that point is gone'], { kind: 'saved' }])
  sync.close()
})
