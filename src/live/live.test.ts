import { once } from 'node:events'
import { mkdtempSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { WebSocket } from 'ws'
import { setClient } from '../../scripts/guard.mjs'
import { ensureRuntime } from '../../scripts/build-runtime.mjs'
import type * as Runtime from '../../packages/runtime/src/index'
import type * as Live from '../../packages/runtime/src/live'
import { writeBundle } from '../core/formats/bundle/write'
import { linkStory } from '../core/story/link'
import type { Story } from '../core/story/types'
import { attachLive } from './attach'
import type { LiveStore } from './hub'
import { quay } from '../../test/quay'

const ID = '11111111-2222-4333-8444-555555555555'

const dist = await ensureRuntime()
const { loadBundle } = (await import(join(dist, 'index.js'))) as typeof Runtime
const { joinDesk } = (await import(join(dist, 'live.js'))) as typeof Live

const story = (said: string, more: Partial<Story> = {}): Story =>
  quay(
    [
      {
        id: 'here',
        lines: [{ id: 'first', text: said }],
        choices: [
          { id: 'go', text: 'Go', when: '!fog', do: ['rope += 1'], to: 'quay.sand' },
          { id: 'wait', text: 'Wait', when: 'fog', to: 'quay.here' },
        ],
      },
      { id: 'sand', choices: [{ id: 'on', text: 'On', to: 'quay.end' }] },
      { id: 'end', ending: 'across' },
    ],
    {
      ledger: [
        { id: 'rope', kind: 'item', max: 3, initial: 1 },
        { id: 'fog', kind: 'flag', given: 'rest' },
      ],

      ...more,
    },
  )

/** A server with one story in it, which can be edited. */
class Stand implements LiveStore {
  revision = 0
  text = JSON.stringify(story('The tide turns.'))
  private readonly hearers = new Set<(told: string) => void>()
  readonly server: Server = createServer()
  mayRead = true
  /** Addresses whose word is taken for where others are. */
  proxies = new Set<string>()
  private readonly access = new Set<(member: string) => void>()

  onAccess(hear: (member: string) => void): () => void {
    this.access.add(hear)
    return () => this.access.delete(hear)
  }

  changeAccess(mayRead: boolean): void {
    this.mayRead = mayRead
    for (const hear of this.access) hear('*')
  }

  listen(_id: string, hear: (told: string) => void): () => void {
    this.hearers.add(hear)
    return () => this.hearers.delete(hear)
  }

  get listeners(): number {
    return this.hearers.size
  }

  async ask(call: 'revisionOf' | 'textAt', id: string): Promise<never> {
    return (id !== ID ? undefined : call === 'revisionOf' ? this.revision : this.text) as never
  }

  edit(next: Story): void {
    this.revision += 1
    this.text = JSON.stringify(next)
    for (const hear of this.hearers) hear('')
  }

  get host(): string {
    return `127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  get url(): string {
    return `ws://${this.host}/live`
  }

  async open(): Promise<void> {
    const hosts = new Set<string>()
    attachLive(this.server, {
      store: () => Promise.resolve(this),
      data: mkdtempSync(join(tmpdir(), 'paper-compass-live-')),
      secret: undefined,
      mayRead: () => Promise.resolve(this.mayRead),
      hosts,
      clientOf: (request) => setClient(request, this.proxies),
      remote: false,
    })
    await new Promise<void>((done) => this.server.listen(0, '127.0.0.1', done))
    hosts.add(this.host)
  }
}

interface Told {
  readonly method?: string
  readonly id?: number
  readonly params?: Record<string, unknown>
  readonly result?: Record<string, unknown>
  readonly error?: { code: number; message: string }
}

/** A raw end of the line, which says whatever it is told to. */
class Raw {
  readonly heard: Told[] = []
  closed: { code: number; why: string } | undefined
  readonly socket: WebSocket

  constructor(url: string, headers: Record<string, string> = {}) {
    this.socket = new WebSocket(url, { headers })
    this.socket.on('message', (data: Buffer) => this.heard.push(JSON.parse(data.toString()) as Told))
    this.socket.on('close', (code, why) => (this.closed = { code, why: why.toString() }))
    this.socket.on('error', () => undefined)
  }

  async open(): Promise<this> {
    if (this.socket.readyState !== WebSocket.OPEN) await once(this.socket, 'open')
    return this
  }

  say(what: unknown): void {
    this.socket.send(typeof what === 'string' ? what : JSON.stringify(what))
  }

  async until<T>(find: (raw: this) => T | undefined): Promise<T> {
    for (let waited = 0; waited < 10_000; waited += 20) {
      const found = find(this)
      if (found !== undefined) return found
      await sleep(20)
    }
    throw new Error(`nothing of that kind came: ${JSON.stringify(this.heard).slice(0, 1000)}`)
  }

  told(
    method: string,
    which: (params: Record<string, unknown>) => boolean = () => true,
  ): Promise<Record<string, unknown>> {
    return this.until(({ heard }) => heard.find((one) => one.method === method && which(one.params!))?.params)
  }

  async ask(id: number, method: string, params: unknown): Promise<Told> {
    this.say({ jsonrpc: '2.0', id, method, params })
    return this.until(({ heard }) => heard.find((one) => one.id === id && one.method === undefined))
  }
}

let stand: Stand
const open: { close(): void }[] = []

beforeEach(async () => {
  stand = new Stand()
  await stand.open()
})
afterEach(() => {
  for (const one of open.splice(0)) one.close()
  stand.server.closeAllConnections()
  stand.server.close()
})

/** A window of the application on the story. */
async function window(): Promise<{ raw: Raw; key: string }> {
  const raw = await new Raw(stand.url, { Origin: `http://${stand.host}` }).open()
  open.push(raw.socket)
  const { result } = await raw.ask(1, 'watch', { story: ID })
  return { raw, key: result!['key'] as string }
}

function join_(key: string, onEvent?: (event: string, message: string) => void) {
  const game = loadBundle(writeBundle(linkStory(story('The tide turns.')))).begin()
  const line = joinDesk(game, {
    key,
    name: 'A game',
    url: stand.url,
    WebSocket: WebSocket as never,
    ...(onEvent === undefined ? {} : { onEvent }),
  })
  open.push({ close: () => line.leave() })
  return { game, line }
}

test('a window sees where a game is, what it did and what the game gave it', async () => {
  const { raw, key } = await window()
  const { game, line } = join_(key)
  expect(await raw.told('joined')).toMatchObject({ name: 'A game' })
  expect(await raw.told('state')).toMatchObject({
    state: {
      beat: 'quay.here',
      status: 'choice',
      lines: [{ text: 'The tide turns.' }],
      ledger: { rope: 1, fog: false },
      did: null,
    },
  })
  game.give({ fog: true })
  expect(await raw.told('state', ({ state }) => (state as { ledger: { fog: boolean } }).ledger.fog)).toMatchObject({
    state: { did: { given: { fog: true } }, choices: [{ id: 'quay.here.wait', open: true }] },
  })
  game.give({ fog: false }).choose('quay.here.go')
  expect(await raw.told('state', ({ state }) => (state as { beat: string }).beat === 'quay.sand')).toMatchObject({
    state: { did: { choice: 'quay.here.go' }, ledger: { rope: 2 } },
  })
  // somebody who opens another window sees the same
  const other = await new Raw(stand.url, { Origin: `http://${stand.host}` }).open()
  open.push(other.socket)
  const { result } = await other.ask(1, 'watch', { story: ID })
  expect(result).toMatchObject({ games: [{ name: 'A game', state: { beat: 'quay.sand' } }] })
  line.leave()
  await raw.told('left')
})

test('a game that gives something with every frame is told of together, and is not taken for a flood', async () => {
  const { raw, key } = await window()
  const { game } = join_(key)
  await raw.told('state')
  for (let frame = 0; frame < 600; frame += 1) {
    game.give({ fog: frame % 2 === 0 })
    if (frame % 100 === 0) await sleep(20)
  }
  game.give({ fog: true })
  await raw.told('state', ({ state }) => (state as { ledger: { fog: boolean } }).ledger.fog)
  await sleep(200)
  const states = raw.heard.filter(({ method }) => method === 'state')
  expect(states.length).toBeLessThan(30)
  expect(states.at(-1)!.params).toMatchObject({ state: { ledger: { fog: true }, did: { given: { fog: true } } } })
  expect(raw.heard.some(({ method }) => method === 'left' || method === 'trouble')).toBe(false)
})

test('an edit goes into the game, its state carried over, and windows are told what it did there', async () => {
  const { raw, key } = await window()
  const events: string[] = []
  const { game } = join_(key, (event) => events.push(event))
  await raw.told('state')
  stand.edit(story('The tide has turned.'))
  expect(await raw.told('took')).toMatchObject({
    revision: 1,
    took: { moved: false, revised: true, beat: 'quay.here' },
  })
  expect(game.lines.map(({ text }) => text)).toEqual(['The tide has turned.'])
  game.choose('quay.here.go')
  // the beat that it is at is taken away
  const gone = story('The tide has turned.')
  gone.scenes[0]!.beats[0]!.choices![0]!.to = 'quay.end'
  gone.scenes[0]!.beats.splice(1, 1)
  stand.edit(gone)
  expect(await raw.told('took', ({ revision }) => revision === 2)).toMatchObject({
    took: { moved: true, beat: 'quay.here', lost: ['quay.sand'] },
  })
  expect([game.beat, game.ledger['rope']]).toEqual(['quay.here', 2])
  expect(events).toEqual(['joined', 'changed', 'changed'])
})

test('a game is sent into a state, and one that can not go there says so', async () => {
  const { raw, key } = await window()
  const { game } = join_(key)
  const { id } = (await raw.told('joined')) as { id: string }
  await raw.told('state')
  const { result } = await raw.ask(2, 'send', {
    game: id,
    save: { ...game.save(), at: 'quay.sand', ledger: { rope: 3 } },
  })
  expect(result).toMatchObject({ moved: false, beat: 'quay.sand' })
  expect([game.beat, game.ledger['rope']]).toEqual(['quay.sand', 3])
  const refused = await raw.ask(3, 'send', { game: id, save: { paperCompassSave: 9 } })
  expect(refused.error?.message).toMatch(/paperCompassSave: expected 1/)
  expect(game.beat).toBe('quay.sand')
  expect((await raw.ask(4, 'send', { game: 'nobody', save: {} })).error?.message).toMatch(/not on the line/)
})

test('without the key nobody joins, and another page is no window', async () => {
  const { key } = await window()
  const wrong = `${key.slice(0, -1)}${key.endsWith('A') ? 'B' : 'A'}`
  for (const bad of [wrong, '', `${ID}.`, key.replace('1', '2')]) {
    const raw = await new Raw(stand.url).open()
    const { error } = await raw.ask(1, 'join', { key: bad, name: 'x' })
    expect(error?.message).toMatch(/the key does not open any story/)
    expect((await raw.until(({ closed }) => closed)).code).toBe(1008)
  }
  const foreign = await new Raw(stand.url, { Origin: 'http://elsewhere.example' }).open()
  open.push(foreign.socket)
  expect((await foreign.ask(1, 'watch', { story: ID })).error?.message).toMatch(/not found/i)
  expect((await foreign.ask(2, 'state', {})).error?.message).toMatch(/join first/)
  const named = new Raw(stand.url, { Host: 'elsewhere.example' })
  await named.until(({ socket }) => (socket.readyState === WebSocket.CLOSED ? true : undefined))
  expect(named.heard).toEqual([])
})

test('behind a proxy a window is taken by the name that was asked for; a game of another machine is not, whatever it says', async () => {
  const forwarded = { 'X-Forwarded-For': '192.0.2.7', 'X-Forwarded-Host': stand.host, Host: 'inside:9000' }
  const joins = async (headers: Record<string, string>) => {
    const raw = new Raw(stand.url, headers)
    open.push(raw.socket)
    return raw.until(({ socket: { readyState } }) =>
      readyState === WebSocket.OPEN ? 'yes' : readyState === WebSocket.CLOSED ? 'no' : undefined,
    )
  }
  const page = { Origin: `http://${stand.host}` }
  expect(await joins({ ...forwarded, ...page })).toBe('no')
  stand.proxies.add('127.0.0.1')
  expect(await joins({ ...forwarded, ...page })).toBe('yes')
  expect(await joins(forwarded)).toBe('no')
  expect(await joins({ ...forwarded, 'X-Client-Address': '127.0.0.1' })).toBe('no')
  expect(await joins({ 'X-Forwarded-For': '127.0.0.1' })).toBe('yes')
})

test('a game that floods, sends nonsense or too much is cut off, and others go on', async () => {
  const { raw, key } = await window()
  const { game } = join_(key)
  await raw.told('state')
  const joined = async (name: string) => {
    const bad = await new Raw(stand.url).open()
    open.push(bad.socket)
    expect((await bad.ask(1, 'join', { key, name })).result).toMatchObject({ title: 'A quay' })
    return bad
  }
  const nonsense = await joined('nonsense')
  for (const what of ['{', '[1', 'null', '{"jsonrpc":"1.0"}', '"text"', '}', '{{', 'x']) nonsense.say(what)
  expect((await nonsense.until(({ closed }) => closed)).code).toBe(1008)
  expect(nonsense.heard.some(({ error }) => error?.code === -32700)).toBe(true)
  const wrong = await joined('wrong')
  const answer = await wrong.ask(2, 'state', { status: 'flying' })
  expect(answer.error?.message).toMatch(/can not be understood/)
  await raw.told('trouble', ({ message }) => String(message).includes('can not be understood'))
  const large = await joined('large')
  large.say(`"${'x'.repeat(2 * 1024 * 1024)}"`)
  expect((await large.until(({ closed }) => closed)).code).toBe(1009)
  const flood = await joined('flood')
  const until = Date.now() + 9_000
  while (flood.closed === undefined && Date.now() < until) {
    for (let times = 0; times < 200; times += 1)
      if (flood.socket.readyState === WebSocket.OPEN) flood.say({ jsonrpc: '2.0', method: 'hello' })
    await sleep(100)
  }
  expect(flood.closed?.code).toBe(1008)
  // the honest game and the window have noticed nothing
  game.choose('quay.here.go')
  await raw.told('state', ({ state }) => (state as { beat: string }).beat === 'quay.sand')
  expect(raw.closed).toBeUndefined()
})

test('when nobody is left, nothing is held', async () => {
  const { raw, key } = await window()
  const { line } = join_(key)
  await raw.told('state')
  expect(stand.listeners).toBe(1)
  line.leave()
  await raw.told('left')
  raw.socket.close()
  for (let waited = 0; stand.listeners > 0 && waited < 5_000; waited += 20) await sleep(20)
  expect(stand.listeners).toBe(0)
})
