import { jest } from '@jest/globals'
import { beatsOf, insert, Store, story } from '../../test/sync-story'
import { seededRandom, type Random } from '../core/base/random'
import { fail, ok, type Result } from '../core/base/result'
import { applyChange } from '../core/story/changes/apply'
import type { Change } from '../core/story/changes/types'
import type { ApiError } from './api'
import type { Opened, Saved, Told } from '../core/contract/answers'
import { StorySync, type StoryServer, type Synced } from './story-sync'

/** A server with one story; its answers and what it tells can be lost, late and out of order. */
class Server {
  story = story
  revision = 0
  /** How often a request reached it. */
  readonly seen = new Map<string, number>()
  private readonly journal: Told[] = []
  private readonly listeners: ((told: Told) => void)[] = []
  private readonly undone: Change[] = []

  constructor(
    private readonly random: Random,
    /** Of a hundred requests or events so many are lost or late. */
    public trouble: number,
  ) {}

  listen(hear: (told: Told) => void): void {
    this.listeners.push(hear)
  }

  private save(change: Change, request: string): Result<Saved, ApiError> {
    const known = this.journal.find((one) => one.request === request)
    if (known !== undefined) return ok(known)
    const applied = applyChange(this.story, change)
    if (!applied.ok) return fail({ kind: 'refused', message: applied.error })
    this.story = applied.value.story
    this.undone.push(applied.value.inverse)
    this.revision += 1
    const done = applied.value.change
    const told: Told = { revision: this.revision, change: done, request, summary: '', canUndo: true, canRedo: false }
    this.journal.push(told)
    for (const hear of this.listeners) setTimeout(() => hear(told), this.random.below(400))
    return ok(told)
  }

  /** Something goes wrong on the way there, or on the way back. */
  private async carry<T>(work: () => Result<T, ApiError>): Promise<Result<T, ApiError>> {
    const away = fail<ApiError>({ kind: 'away', message: 'The server can not be reached.' })
    await new Promise((done) => setTimeout(done, this.random.below(50)))
    if (this.random.below(100) < this.trouble) return away
    const answer = work()
    return this.random.below(100) < this.trouble ? away : answer
  }

  readonly api: { -readonly [Name in keyof StoryServer]: StoryServer[Name] } = {
    open: () =>
      this.carry(() =>
        ok<Omit<Opened, 'role' | 'since' | 'released' | 'survey'>>({
          id: 'one',
          sample: false,
          story: this.story,
          revision: this.revision,
          canUndo: this.revision > 0,
          canRedo: false,
        }),
      ),
    change: (_, change, request) => {
      this.seen.set(request, (this.seen.get(request) ?? 0) + 1)
      return this.carry(() => this.save(change, request))
    },
    travel: (_, _kind, request) => this.carry(() => this.save(this.undone.at(-1)!, request)),
    returnTo: (_, _revision, request) => this.carry(() => this.save(insert('returned'), request)),
  }
}

function window(server: Server, store = new Store()) {
  const notices: string[] = []
  const seen: Partial<Synced>[] = []
  const sync = new StorySync(
    'one',
    { id: 'one', sample: false, story: server.story, revision: server.revision, canUndo: false, canRedo: false },
    server.api,
    store as never,
    { changed: (part) => void seen.push(part), notice: (message) => void notices.push(message) },
  )
  void sync.send()
  server.listen((told) => sync.told(told))
  return { sync, store, notices, seen }
}

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

test('whatever is lost, late or out of order, all windows come to one story in which every edit is once', async () => {
  let lost = 0
  for (let seed = 1; seed <= 40; seed += 1) {
    const random = seededRandom(seed)
    const server = new Server(random, 25)
    const windows = Array.from({ length: 2 + random.below(2) }, () => window(server))
    const made: string[] = []
    for (let step = 0; step < 25; step += 1) {
      const at = random.below(windows.length)
      const id = `b${seed}_${step}`
      expect(windows[at]!.sync.edit(insert(id))).toBeUndefined()
      // what one has written is there at once, and stays
      expect(beatsOf(windows[at]!.sync.state.story)).toContain(id)
      made.push(id)
      await jest.advanceTimersByTimeAsync(random.below(600))
    }
    server.trouble = 0
    await jest.advanceTimersByTimeAsync(20_000)
    lost += [...server.seen.values()].filter((times) => times > 1).length
    expect([...beatsOf(server.story)].sort()).toEqual(['here', ...made].sort())
    for (const { sync, store, notices } of windows) {
      expect({ seed, beats: beatsOf(sync.state.story) }).toEqual({ seed, beats: beatsOf(server.story) })
      expect(sync.state.saving).toEqual({ kind: 'saved' })
      expect(store.kept).toEqual([])
      expect(notices).toEqual([])
      sync.close()
    }
  }
  expect(lost).toBeGreaterThan(100)
})

test('what several windows write in one beat is put together, and what can not be is refused with its words: none is lost', async () => {
  const ids = ['one', 'two', 'three', 'four']
  const lines = ids.map((text) => ({ text }))
  const choices = ids.map((id) => ({ id, text: id, to: 'quay.here' }))
  let together = 0
  let refused = 0
  for (let seed = 1; seed <= 40; seed += 1) {
    const random = seededRandom(seed)
    const server = new Server(random, 20)
    server.story = { ...story, scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here', lines, choices }] }] }
    const windows = Array.from({ length: 2 + random.below(2) }, () => window(server))
    const words: string[] = []
    for (let step = 0; step < 20; step += 1) {
      const { sync } = windows[random.below(windows.length)]!
      const [beat] = sync.state.story.scenes[0]!.beats
      const word = `w${seed}_${step}`
      const part = random.pick(['lines', 'choices'] as const)
      const list = [...beat![part]!] as { text: string }[]
      const at = random.below(list.length)
      if (random.chance(0.3))
        list.splice(at, 0, part === 'lines' ? { text: word } : ({ id: word, text: word, to: '' } as never))
      else list[at] = { ...list[at]!, text: `${list[at]!.text} ${word}` }
      const item = { ...beat!, [part]: list }
      expect(
        sync.edit({ op: 'replace', in: { list: 'beats', scene: 'quay' }, id: 'here', at: 0, item }),
      ).toBeUndefined()
      words.push(word)
      await jest.advanceTimersByTimeAsync(random.below(500))
    }
    server.trouble = 0
    await jest.advanceTimersByTimeAsync(30_000)
    const saved = JSON.stringify(server.story)
    for (const { sync } of windows) {
      expect(sync.state.story).toEqual(server.story)
      expect(sync.state.saving).toEqual({ kind: 'saved' })
    }
    const aside = JSON.stringify(windows.flatMap(({ sync }) => sync.state.refused))
    for (const word of words) {
      const isSaved = saved.includes(`${word}"`) || saved.includes(`${word} `)
      expect({ seed, word, kept: isSaved || aside.includes(word) }).toEqual({ seed, word, kept: true })
      if (isSaved) together += 1
      else refused += 1
    }
    for (const { sync } of windows) sync.close()
  }
  expect(together).toBeGreaterThan(refused)
  expect(refused).toBeGreaterThan(5)
})

test('an edit that the server can not carry out is set aside, and those after it are saved', async () => {
  const server = new Server(seededRandom(1), 0)
  const one = window(server)
  const { change } = server.api
  server.api.change = async (id, sent, request) =>
    JSON.stringify(sent).includes('poison')
      ? fail<ApiError>({ kind: 'failed', message: 'The store could not do this.' })
      : change(id, sent, request)
  one.sync.edit(insert('poison'))
  one.sync.edit(insert('after'))
  await jest.advanceTimersByTimeAsync(10_000)
  expect(beatsOf(server.story)).toEqual(['here', 'after'])
  expect(beatsOf(one.sync.state.story)).toEqual(['here', 'after'])
  expect(one.sync.state.saving).toEqual({ kind: 'saved' })
  expect(one.sync.state.refused).toMatchObject([{ change: insert('poison'), why: 'The store could not do this.' }])
  // it is there after the page is read anew, and can be made again
  one.sync.close()
  const next = window(server, one.store)
  const [refused] = next.sync.state.refused
  server.api.change = change
  expect(next.sync.tryAgain(refused!.request)).toBeUndefined()
  await jest.advanceTimersByTimeAsync(1_000)
  expect(beatsOf(server.story)).toContain('poison')
  expect(next.sync.state.refused).toEqual([])
  expect(next.store.setAside).toEqual([])
  next.sync.close()
})

test('a window that is closed before its edits are sent gives them to the next one', async () => {
  const server = new Server(seededRandom(1), 100)
  const first = window(server)
  first.sync.edit(insert('kept'))
  await jest.advanceTimersByTimeAsync(5_000)
  expect(first.sync.state.saving).toMatchObject({ kind: 'failed' })
  first.sync.close()
  server.trouble = 0
  const next = window(server, first.store)
  expect(beatsOf(next.sync.state.story)).toEqual(['here', 'kept'])
  await jest.advanceTimersByTimeAsync(5_000)
  expect(beatsOf(server.story)).toEqual(['here', 'kept'])
  expect(first.store.kept).toEqual([])
  next.sync.close()
})

test('an edit that another window has made impossible is refused with the reason, and the rest goes on', async () => {
  const server = new Server(seededRandom(1), 0)
  const [mine, theirs] = [window(server), window(server)]
  const rename = (title: string): Change => ({
    op: 'replace',
    in: { list: 'beats', scene: 'quay' },
    id: 'here',
    at: 0,
    item: { id: 'here', notes: title },
  })
  theirs.sync.edit({ op: 'remove', in: { list: 'beats', scene: 'quay' }, id: 'here', at: 0 })
  await jest.advanceTimersByTimeAsync(60)
  mine.sync.edit(rename('too late'))
  mine.sync.edit(insert('after'))
  await jest.advanceTimersByTimeAsync(5_000)
  expect(mine.notices).toEqual([expect.stringContaining('refused')])
  expect(beatsOf(mine.sync.state.story)).toEqual(['after'])
  expect(beatsOf(server.story)).toEqual(['after'])
  mine.sync.close()
  theirs.sync.close()
})

test('undo, redo and returning wait for what was typed, and say so while the server is away', async () => {
  for (const act of [
    (sync: StorySync) => sync.travel('undo'),
    (sync: StorySync) => sync.travel('redo'),
    (sync: StorySync) => sync.returnTo(0),
  ]) {
    const server = new Server(seededRandom(1), 100)
    const { sync, notices } = window(server)
    sync.edit(insert('typed'))
    const acting = act(sync)
    await jest.advanceTimersByTimeAsync(100)
    await acting
    expect(notices).toEqual([expect.stringContaining('until your edits are saved')])
    server.trouble = 0
    await jest.advanceTimersByTimeAsync(5_000)
    expect(beatsOf(server.story)).toContain('typed')
    const again = act(sync)
    await jest.advanceTimersByTimeAsync(1_000)
    await again
    await jest.advanceTimersByTimeAsync(1_000)
    expect(beatsOf(sync.state.story)).toEqual(beatsOf(server.story))
    expect(sync.state.saving).toEqual({ kind: 'saved' })
    sync.close()
  }
})

test('a server that goes away during an undo is told as not saved, one that refuses it says why', async () => {
  const server = new Server(seededRandom(1), 0)
  const { sync, notices } = window(server)
  server.trouble = 100
  const undone = sync.travel('undo')
  await jest.advanceTimersByTimeAsync(100)
  await undone
  expect(sync.state.saving).toMatchObject({ kind: 'failed' })
  const refusing = new StorySync(
    'one',
    { id: 'one', sample: false, story, revision: 0, canUndo: false, canRedo: false },
    { ...server.api, travel: () => Promise.resolve(fail({ kind: 'refused', message: 'nothing to undo' })) },
    new Store() as never,
    { changed: () => undefined, notice: (message) => void notices.push(message) },
  )
  await refusing.travel('undo')
  expect(notices).toEqual(['nothing to undo'])
  expect(refusing.state.saving).toEqual({ kind: 'saved' })
  sync.close()
  refusing.close()
})
