import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join, relative, resolve } from 'node:path'
import WebSocket from 'ws'
import { expect, freePort, shortStory, test } from './app'
import { described, fits, routes } from './described'
import { passwordOf, Studio, type Headers } from './studio'

/** What each route is for, told here a second time. */
type For =
  'anyone' | 'reading' | 'commenting' | 'writing' | 'owning' | 'members and tokens' | 'makers' | 'members' | 'stewards'

const STORY: Readonly<Record<string, For>> = {
  'GET ': 'reading',
  'GET /at/0': 'reading',
  'GET /bundle': 'reading',
  'GET /chart': 'reading',
  'GET /comments': 'reading',
  'GET /copy': 'reading',
  'GET /events': 'reading',
  'GET /export': 'reading',
  'GET /history': 'reading',
  'GET /jobs': 'reading',
  'GET /jobs/X': 'reading',
  'GET /members': 'reading',
  'GET /page': 'reading',
  'GET /playtests': 'reading',
  'GET /search': 'reading',
  'GET /survey': 'reading',
  'GET /texts': 'reading',
  'GET /voices': 'reading',
  'POST /texts': 'reading',
  'POST /voices': 'reading',
  'POST /here': 'reading',
  'POST /visited': 'reading',
  'POST /comments': 'commenting',
  'POST /comments/X': 'commenting',
  'DELETE /comments/X': 'commenting',
  'POST /changes': 'writing',
  'POST /facts': 'writing',
  'POST /jobs': 'writing',
  'DELETE /jobs/X': 'writing',
  'POST /playtests': 'writing',
  'POST /redo': 'writing',
  'POST /return': 'writing',
  'POST /undo': 'writing',
  'POST /versions': 'writing',
  'POST /versions/X': 'writing',
  'DELETE /playtests/X': 'writing',
  'DELETE /versions/X': 'writing',
  'GET /audit': 'owning',
  'GET /invitations': 'owning',
  'POST /everyone': 'owning',
  'POST /invitations': 'owning',
  'POST /members': 'owning',
  'DELETE /invitations/X': 'owning',
  'POST /restore': 'owning',
  'DELETE ': 'owning',
}
const OTHERS: Readonly<Record<string, For>> = {
  'GET /api/stories': 'members and tokens',
  'POST /api/stories': 'makers',
  'GET /api/imports/X': 'members and tokens',
  'POST /api/manuscripts': 'members and tokens',
  'GET /api/account': 'members',
  'POST /api/account/tokens': 'members',
  'DELETE /api/account/tokens/X': 'members',
  'DELETE /api/account/sessions/X': 'members',
  'GET /api/members': 'members',
  'POST /api/members/X': 'stewards',
  'DELETE /api/members/X': 'stewards',
  'GET /api/invitations': 'stewards',
  'POST /api/invitations': 'stewards',
  'DELETE /api/invitations/X': 'stewards',
  'GET /api/audit': 'stewards',
  'GET /api/nights': 'members and tokens',
  'POST /api/nights': 'stewards',
  'DELETE /api/nights/X': 'stewards',
  'GET /api/join': 'anyone',
  'POST /api/join': 'anyone',
  'POST /api/begin': 'anyone',
  'GET /health': 'anyone',
}

const SEATS = [
  'nobody',
  'stranger',
  'reader',
  'commentator',
  'writer',
  'owner',
  'steward',
  'reading token',
  'writing token',
  'token of another story',
  'token that has ended',
] as const
type SeatName = (typeof SEATS)[number]

const LET_IN: Readonly<Record<For, readonly SeatName[]>> = {
  anyone: SEATS,
  reading: ['reader', 'commentator', 'writer', 'owner', 'steward', 'reading token', 'writing token'],
  commenting: ['commentator', 'writer', 'owner', 'steward', 'writing token'],
  writing: ['writer', 'owner', 'steward', 'writing token'],
  owning: ['owner', 'steward'],
  'members and tokens': SEATS.filter((seat) => seat !== 'nobody' && seat !== 'token that has ended'),
  makers: ['stranger', 'reader', 'commentator', 'writer', 'owner', 'steward', 'writing token'],
  members: ['stranger', 'reader', 'commentator', 'writer', 'owner', 'steward'],
  stewards: ['steward'],
}

let studio: Studio
let seats: Record<SeatName, Headers>
let story: string
let other: string
let metrics: number

test.beforeAll(async () => {
  metrics = await freePort()
  studio = await Studio.open({ PAPER_COMPASS_METRICS: String(metrics), PAPER_COMPASS_LOG: 'info' })
  const steward = await studio.come('/api/begin', studio.firstKey, 'Ada')
  const newcomer = async (name: string) => {
    const { key } = await studio.done<{ key: string }>('POST', '/api/invitations', { kind: 'join' }, steward)
    return studio.come('/api/join', key, name)
  }
  const owner = await newcomer('Olive')
  const make = async (title: string) => {
    const answer = await fetch(`${studio.app.address}/api/stories`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream', ...owner },
      body: JSON.stringify(shortStory(title, 'Here.')),
    })
    return ((await answer.json()) as { id: string }).id
  }
  story = await make('Walked')
  other = await make('Another')
  const into = async (name: string, role: string) => {
    const { key } = await studio.done<{ key: string }>('POST', `/api/stories/${story}/invitations`, { role }, owner)
    return studio.come('/api/join', key, name)
  }
  const token = async (asked: object) => {
    const made = { name: 'a program', days: 1, ...asked }
    const { key } = await studio.done<{ key: string }>('POST', '/api/account/tokens', made, owner)
    return { Authorization: `Bearer ${key}` }
  }
  const ended = await token({ name: 'ended' })
  const { tokens } = await studio.done<{ tokens: { id: string }[] }>('GET', '/api/account', undefined, owner)
  await studio.done('DELETE', `/api/account/tokens/${tokens[0]!.id}`, undefined, owner)
  seats = {
    nobody: {},
    stranger: await newcomer('Stan'),
    reader: await into('Rea', 'reader'),
    commentator: await into('Cora', 'commentator'),
    writer: await into('Wren', 'writer'),
    owner,
    steward,
    'reading token': await token({}),
    'writing token': await token({ mayWrite: true }),
    'token of another story': await token({ mayWrite: true, story: other }),
    'token that has ended': ended,
  }
})

test.afterAll(() => studio.close())

test('the table names every route that there is', () => {
  const found: string[] = []
  for (const file of routes(resolve('src/app'))) {
    const path = `/${relative(resolve('src/app'), join(file, '..'))}`
    if (path.startsWith('/auth/') || path.endsWith('/play')) continue
    const exported = readFileSync(file, 'utf8').matchAll(/export (?:const|async function) (GET|POST|DELETE|PUT|PATCH)/g)
    for (const [, method] of exported) found.push(`${method} ${path.replaceAll(/\[revision\]/g, '0')}`)
  }
  const told = [
    ...Object.keys(STORY).map((one) => one.replace(' ', ' /api/stories/[id]')),
    ...Object.keys(OTHERS),
    // it is done at once, and has a test of its own
    'POST /api/stories/[id]/duplicate',
  ].map((one) => one.replaceAll('/X', '/[]'))
  const plain = (one: string) => one.replace('imports/[id]', 'imports/[]').replaceAll(/\[(?!id\])\w+\]/g, '[]')
  expect(told.sort()).toEqual(found.map(plain).sort())
})

test('every route lets in whom it is for, and nobody else; of a story that one may not read nothing is said', async () => {
  const wrong: string[] = []
  const walk = async (method: string, path: string, what: For) => {
    for (const seat of SEATS) {
      const controller = new AbortController()
      const answer = await fetch(studio.app.address + path, {
        method,
        signal: controller.signal,
        headers: { ...(method === 'POST' ? { 'Content-Type': 'application/json' } : {}), ...seats[seat] },
        // understood by none, so that whoever is let in changes nothing
        ...(method === 'POST' ? { body: '"nothing"' } : {}),
      })
      const isStream = answer.headers.get('content-type') === 'text/event-stream'
      const text = isStream ? '' : await answer.text()
      controller.abort()
      const isOut = answer.status === 401 || answer.status === 403 || text.includes('There is no story at this address')
      if (isOut === LET_IN[what].includes(seat))
        wrong.push(`${seat}: ${method} ${path}: ${answer.status} ${text.slice(0, 90)}`)
      if (isOut && text.includes('Walked')) wrong.push(`${seat} is told the title by ${method} ${path}`)
      const nobody = seat === 'nobody' || seat === 'token that has ended'
      if (isOut && nobody !== (answer.status === 401)) wrong.push(`${seat}: ${method} ${path}: ${answer.status}`)
    }
  }
  const filled = (path: string) => path.replace('/X', `/${randomUUID()}`)
  for (const [route, what] of Object.entries(OTHERS)) {
    const [method, path] = route.split(' ') as [string, string]
    await walk(method, filled(path), what)
  }
  for (const [route, what] of Object.entries(STORY)) {
    if (route === 'DELETE ' || route === 'POST /restore') continue
    const [method, path] = route.split(' ') as [string, string]
    await walk(method, `/api/stories/${story}${filled(path)}`, what)
  }
  await walk('GET', `/story/${story}/play`, 'reading')
  // what is done at once is tried by all who may not, and then by one who may
  for (const [method, path] of [
    ['DELETE', ''],
    ['POST', '/restore'],
  ] as const)
    for (const seat of [...SEATS.filter((one) => !LET_IN.owning.includes(one)), 'owner'] as const) {
      const { status } = await studio.ask(method, `/api/stories/${story}${path}`, undefined, seats[seat])
      if ((status === 200) !== (seat === 'owner')) wrong.push(`${seat}: ${method} ${path}: ${status}`)
    }
  expect(wrong).toEqual([])
})

test('what is answered of members is as it is described', async () => {
  const asked = { kind: 'join', note: 'for nobody' }
  await studio.done('POST', '/api/invitations', asked, seats.steward)
  await studio.done('POST', `/api/stories/${story}/invitations`, { role: 'reader', note: 'x' }, seats.owner)
  for (const template of Object.keys(described.paths)) {
    if (!/(account|members|invitations|audit)$/.test(template)) continue
    const seat = template.includes('{id}') || template.endsWith('account') ? 'owner' : 'steward'
    const answer = await studio.done<object>('GET', template.replace('{id}', story), undefined, seats[seat])
    expect(JSON.stringify(answer).length).toBeGreaterThan(50)
    const place = `paths ${template} get responses 200 content application/json schema`
    expect([template, fits(place, answer)]).toEqual([template, null])
  }
})

test('the library shows each what they may read; a copy is its maker’s', async () => {
  const titles = async (seat: SeatName) => {
    const { cards } = await studio.done<{ cards: { title: string; role: string; sample: boolean }[] }>(
      'GET',
      '/api/stories',
      undefined,
      seats[seat],
    )
    return cards.filter(({ sample }) => !sample).map(({ title, role }) => `${title} ${role}`)
  }
  expect(await titles('stranger')).toEqual([])
  expect(await titles('reader')).toEqual(['Walked reader'])
  expect((await titles('steward')).sort()).toEqual(['Another owner', 'Walked owner'])
  expect(await titles('token of another story')).toEqual(['Another owner'])
  const { id } = await studio.done<{ id: string }>('POST', `/api/stories/${story}/duplicate`, {}, seats.reader)
  expect((await titles('reader')).sort()).toEqual(['Walked (copy) owner', 'Walked reader'])
  expect(await titles('writer')).toEqual(['Walked writer'])
  for (const seat of ['reading token', 'token of another story'] as const)
    expect((await studio.ask('POST', `/api/stories/${story}/duplicate`, {}, seats[seat])).status).not.toBe(200)
  await studio.done('DELETE', `/api/stories/${id}`, undefined, seats.reader)
})

test('pages lead whoever is nobody to sign in, and others away from what is not theirs', async () => {
  const page = async (path: string, seat: SeatName) => {
    const answer = await studio.ask('GET', path, undefined, seats[seat])
    return [answer.status, answer.headers.get('location')]
  }
  const to = (path: string) => `/sign-in?to=${encodeURIComponent(path)}`
  for (const path of ['/', '/account', '/members', `/story/${story}/desk`])
    expect(await page(path, 'nobody')).toEqual([307, to(path)])
  expect((await page(`/story/${story}/desk`, 'stranger'))[0]).toBe(404)
  expect((await page(`/story/${story}/desk`, 'reader'))[0]).toBe(200)
  expect((await page('/members', 'owner'))[0]).toBe(404)
  expect((await page('/members', 'steward'))[0]).toBe(200)
  // signing in leads nowhere else
  const text = await (await studio.ask('GET', '/sign-in?to=//elsewhere.example')).text()
  expect(text).not.toContain('elsewhere.example"')
})

test('a window hears of a story, on both lines, for as long as it may read it', async () => {
  const line = async (seat: SeatName) => {
    const { port, host } = new URL(studio.app.address)
    const socket = new WebSocket(`ws://${host}/live`, {
      headers: { Origin: `http://127.0.0.1:${port}`, ...seats[seat] },
    })
    const heard: { result?: { key: string }; error?: object }[] = []
    socket.on('message', (data: Buffer) => heard.push(JSON.parse(data.toString()) as object))
    await new Promise((done) => socket.on('open', done))
    const closed = new Promise<number>((done) => socket.on('close', done))
    socket.send(JSON.stringify({ jsonrpc: '2.0', id: 1, method: 'watch', params: { story } }))
    await expect.poll(() => heard.length).toBe(1)
    return { said: heard[0]!, closed, socket }
  }
  for (const seat of SEATS) {
    const { said, socket } = await line(seat)
    expect([seat, said.result !== undefined]).toEqual([seat, LET_IN.reading.includes(seat)])
    socket.close()
  }
  // what is told to whom, when the reader's role is taken
  const events = async (seat: SeatName) => {
    const answer = await fetch(`${studio.app.address}/api/stories/${story}/events`, { headers: seats[seat] })
    const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader()
    let text = ''
    let isOver = false
    void (async () => {
      for (let read = await reader.read(); !read.done; read = await reader.read()) text += read.value
      isOver = true
    })().catch(() => undefined)
    return { text: () => text, isOver: () => isOver, stop: () => reader.cancel() }
  }
  const [reader, writer] = [await events('reader'), await events('writer')]
  const live = await line('reader')
  await expect.poll(() => reader.text() + writer.text()).toMatch(/event: at[^]*event: at/)
  const { members } = await studio.done<{ members: { id: string; name: string }[] }>(
    'GET',
    `/api/stories/${story}/members`,
    undefined,
    seats.owner,
  )
  const idOf = (name: string) => members.find((one) => one.name === name)!.id
  const give = (name: string, role: string | null) =>
    studio.done('POST', `/api/stories/${story}/members`, { member: idOf(name), role }, seats.owner)
  await give('Wren', 'reader')
  await expect.poll(writer.text).toContain('"role":"reader"')
  await give('Rea', null)
  await expect.poll(reader.isOver).toBe(true)
  expect(await live.closed).toBe(1008)
  const change = { op: 'set-story', values: { title: 'Secret' } }
  await studio.done('POST', `/api/stories/${story}/changes`, { request: randomUUID(), change }, seats.owner)
  await expect.poll(writer.text).toContain('Secret')
  expect(reader.text()).not.toContain('Secret')
  // and when the writer is let go, they are nobody
  const all = await studio.done<{ id: string; name: string }[]>('GET', '/api/members', undefined, seats.steward)
  await studio.done('DELETE', `/api/members/${all.find(({ name }) => name === 'Wren')!.id}`, undefined, seats.steward)
  await expect.poll(writer.isOver).toBe(true)
  expect((await studio.ask('GET', '/api/stories', undefined, seats.writer)).status).toBe(401)
})

test('what the server does is counted and written down, without a word of a story, a name or a secret', async () => {
  const change = { op: 'set-story', values: { title: 'Unspoken' } }
  await studio.done('POST', `/api/stories/${other}/changes`, { request: randomUUID(), change }, seats.owner)
  const answer = await fetch(`http://127.0.0.1:${metrics}/metrics`)
  expect(answer.headers.get('content-type')).toContain('application/openmetrics-text')
  const text = await answer.text()
  const edits = /^paper_compass_edits_total (\d+)$/m.exec(text)
  expect(Number(edits?.[1])).toBeGreaterThan(0)
  expect(text).toMatch(/^paper_compass_database_up 1$/m)
  expect(text).toMatch(/^paper_compass_windows \d+$/m)
  expect(text).toContain(
    'paper_compass_answer_seconds_bucket{le="0.1",method="GET",route="/api/stories/:id/history",status="200"}',
  )
  expect(text.endsWith('# EOF\n')).toBe(true)
  // under the application's own address there is nothing of it
  expect((await studio.ask('GET', '/metrics', undefined, seats.steward)).status).toBe(404)
  const lines = () => studio.app.output.split('\n').filter((line) => line.startsWith('{'))
  await expect.poll(() => lines().some((line) => line.includes('/api/stories/:id/changes'))).toBe(true)
  const entry = JSON.parse(lines().findLast((line) => line.includes('/api/stories/:id/changes'))!) as object
  expect(entry).toMatchObject({ method: 'POST', status: 200, from: '127.0.0.1', msg: 'answered' })
  const told = [text, ...lines()].join('\n')
  for (const secret of ['Unspoken', 'Walked', 'studio.example', 'Olive', story, other, 'pc_', passwordOf('Olive')])
    expect([secret, told.includes(secret)]).toEqual([secret, false])
})
