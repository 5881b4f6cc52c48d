import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { randomUUID } from 'node:crypto'
import { ordinary } from '../bench/stories/families'
import { ensureServer } from '../scripts/build-server.mjs'
import { StoreClient, type ClientOptions } from '../src/store/worker/client'
import { failureIn } from '../src/store/worker/protocol'

const encode = (json: unknown) => new Uint8Array(Buffer.from(JSON.stringify(json)))
const edit = (title: string) => encode({ request: randomUUID(), change: { op: 'set-story', values: { title } } })

let folder: string
let options: ClientOptions
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'paper-compass-thread-'))
  const built = await ensureServer()
  options = {
    data: folder,
    migrations: resolve('src/store/migrations'),
    samples: resolve('samples'),
    thread: join(built, 'thread.mjs'),
    reader: join(built, 'reader.mjs'),
  }
}, 60_000)
afterAll(() => rm(folder, { recursive: true, force: true }))

let opened: StoreClient[] = []
async function open(more: Partial<ClientOptions> = {}): Promise<StoreClient> {
  const store = await StoreClient.open({ ...options, ...more })
  opened.push(store)
  return store
}
afterEach(async () => {
  for (const store of opened) await store.close()
  opened = []
})

const failure = (asked: Promise<unknown>) => asked.then(() => undefined, failureIn)

test('the store answers from its thread, alone on its folder; what goes wrong is an answer', async () => {
  const store = await open()
  await expect(StoreClient.open(options)).rejects.toThrow('in use by another process')
  const { cards, total } = await store.ask('list', {})
  expect(cards.map(({ sample }) => sample)).toEqual([true, true])
  expect(total).toBe(2)
  const { id } = cards[0]!
  const told: string[] = []
  const silence = store.listen(id, (text) => told.push(text))
  expect(await store.ask('change', id, edit('Heard'))).toMatchObject({ ok: true, value: { revision: 1 } })
  expect(told.map((text) => JSON.parse(text) as unknown)).toMatchObject([{ revision: 1, change: { op: 'set-story' } }])
  silence()
  for (const body of [encode({}), new Uint8Array([0xff, 0xfe]), encode({ request: 'x', change: {} })])
    expect(await store.ask('change', id, body)).toMatchObject({ ok: false, error: { kind: 'no-request' } })
  expect(await store.ask('importText', new Uint8Array([0x7b, 0x22, 0xe9]))).toMatchObject({
    ok: false,
    error: { kind: 'malformed', message: expect.stringContaining('UTF-8') },
  })
  expect(await store.ask('importText', encode({ paperCompass: 2 }))).toMatchObject({ ok: false })
  await store.close()
  expect(await failure(store.ask('list', {}))).toMatchObject({ kind: 'away' })
})

test('a large story is put in, opened and copied while others are answered', async () => {
  const store = await open()
  const { id } = (await store.ask('list', {})).cards[0]!
  const story = ordinary(6_000)
  const order: string[] = []
  const large = store.ask('importText', encode(story)).then((imported) => {
    order.push('large')
    return imported
  })
  for (let small = 0; small < 3; small += 1) {
    await store.ask('change', id, edit(`Meanwhile ${small}`))
    order.push('small')
  }
  const imported = await large
  expect(order).toEqual(['small', 'small', 'small', 'large'])
  if (!imported.ok) throw new Error(imported.error.message)
  expect(JSON.parse((await store.ask('openText', imported.value))!)).toMatchObject({
    story: JSON.parse(JSON.stringify(story)) as object,
  })
  const copy = (await store.ask('duplicate', imported.value))!
  const exported = JSON.parse((await store.ask('exportText', copy))!.text) as { title: string; scenes: unknown }
  expect(exported.title).toBe(`${story.title} (copy)`)
  expect(exported.scenes).toEqual(JSON.parse(JSON.stringify(story.scenes)))
  expect((await store.ask('list', { text: 'COPY' })).cards).toMatchObject([
    { id: copy, beats: story.scenes.flatMap(({ beats }) => beats).length },
  ])
})

test('a thread that dies is started anew: who waited is told, what was answered is there', async () => {
  const store = await open()
  const { id } = (await store.ask('list', {})).cards[0]!
  expect((await store.ask('change', id, edit('Before it died'))).ok).toBe(true)
  const waiting = failure(store.ask('openText', id))
  await (store as unknown as { worker: { terminate(): Promise<unknown> } }).worker.terminate()
  expect(await waiting).toMatchObject({ kind: 'away' })
  let title: string | undefined
  for (let tries = 0; title === undefined && tries < 50; tries += 1) {
    await new Promise((done) => setTimeout(done, 100))
    title = await store.ask('titleOf', id).catch(() => undefined)
  }
  expect(title).toBe('Before it died')
})

test('what takes too long is given up, and the next is answered', async () => {
  const store = await open({ answerMs: 1 })
  const { id } = await store.ask('list', {}).then(
    ({ cards }) => cards[0]!,
    () => ({ id: randomUUID() }),
  )
  expect(await failure(store.ask('openText', id))).toMatchObject({ kind: 'away' })
})

test('with no room on the disk nothing is written, and everything can be read', async () => {
  const store = await open({ reserve: Number.MAX_SAFE_INTEGER })
  const { cards } = await store.ask('list', {})
  const { id, title } = cards[0]!
  for (const asked of [
    () => store.ask('change', id, edit('Too much')),
    () => store.ask('create', 'Too much', 'en'),
    () => store.ask('duplicate', id),
    () => store.ask('importText', encode(ordinary(10))),
    () => store.ask('nameVersion', id, 'Too much'),
  ])
    expect(await failure(asked())).toMatchObject({ kind: 'full', message: expect.stringContaining('disk is full') })
  expect(await store.ask('titleOf', id)).toBe(title)
  expect(await store.ask('openText', id)).toContain(title)
  expect((await store.ask('history', id))!.steps).toBeDefined()
})
