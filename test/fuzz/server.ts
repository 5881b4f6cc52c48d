import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtemp, rm, statfs, truncate, writeFile } from 'node:fs/promises'
import { request as httpRequest } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { randomStory } from '../../bench/stories/random'
import { seededRandom, type Random } from '../../src/core/base/random'
import { isSame } from '../../src/core/base/same'
import { readStory } from '../../src/core/story/read'
import { applyChange } from '../../src/core/story/changes/apply'
import { basedOn } from '../../src/core/story/changes/based'
import type { Change } from '../../src/core/story/changes/types'
import type { Story } from '../../src/core/story/types'
import { randomChange } from '../random-change'
import { mutate, randomJson, randomText } from './mutate'
import type { Report } from './report'
import { freePort } from '../free-port'
import { SHORT_LIVED } from '../short-lived'

/** Longest that a request may take, in milliseconds. */
const ANSWER_MS = 20_000
/** Longest that a server may take to stop, in milliseconds. */
const STOP_MS = 5_000

/** The server as `npm start` runs it, on a data folder of its own. */
export class Served {
  private child: ChildProcess | undefined
  said = ''

  private constructor(
    readonly folder: string,
    readonly port: number,
    private readonly reserve: string | undefined,
  ) {}

  /** `after`: gives it back after so many milliseconds, however far it has come. */
  static async start(folder?: string, reserve?: string, after?: number): Promise<Served> {
    const port = await freePort()
    const served = new Served(folder ?? (await mkdtemp(join(tmpdir(), 'paper-compass-fuzz-'))), port, reserve)
    await (after === undefined ? served.begin() : Promise.race([served.begin().catch(() => undefined), sleep(after)]))
    return served
  }

  async begin(): Promise<void> {
    this.said = ''
    const child = spawn(process.execPath, [SHORT_LIVED, join(process.cwd(), 'scripts/start.mjs')], {
      env: {
        ...process.env,
        PORT: String(this.port),
        PAPER_COMPASS_DATA: this.folder,
        HOST: '127.0.0.1',
        ...(this.reserve === undefined ? {} : { PAPER_COMPASS_RESERVE_MB: this.reserve }),
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    this.child = child
    const hear = (chunk: Buffer) => (this.said += chunk.toString())
    child.stdout.on('data', hear)
    child.stderr.on('data', hear)
    for (let waited = 0; !this.said.includes('is ready'); waited += 50) {
      if (child.exitCode !== null || waited > 60_000) throw new Error(`the server did not start: ${this.said}`)
      await sleep(50)
    }
  }

  get isAlive(): boolean {
    return this.child?.exitCode === null && this.child.signalCode === null
  }

  /** Ends it; gives after how many milliseconds it was gone. */
  async end(signal: 'SIGTERM' | 'SIGKILL'): Promise<number> {
    const { child } = this
    if (child === undefined || !this.isAlive) return 0
    const begun = performance.now()
    const gone = new Promise((done) => child.once('exit', done))
    child.kill(signal)
    await Promise.race([gone, sleep(30_000)])
    const took = performance.now() - begun
    child.kill('SIGKILL')
    return took
  }

  async remove(): Promise<void> {
    await this.end('SIGKILL')
    await rm(this.folder, { recursive: true, force: true })
  }

  async ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
    const response = await fetch(`http://127.0.0.1:${this.port}${path}`, {
      method,
      headers: body === undefined ? headers : { 'Content-Type': 'application/json', ...headers },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
      signal: AbortSignal.timeout(ANSWER_MS),
    })
    const text = await response.text()
    let json: unknown
    try {
      json = JSON.parse(text)
    } catch {
      json = undefined
    }
    return { status: response.status, json: json as never, text }
  }

  async import(story: unknown): Promise<{ status: number; id: string }> {
    const { status, json } = await this.ask('POST', '/api/stories', JSON.stringify(story), {
      'Content-Type': 'application/octet-stream',
    })
    return { status, id: (json as { id: string } | undefined)?.id ?? '' }
  }

  async open(id: string): Promise<{ story: Story; revision: number }> {
    return (await this.ask('GET', `/api/stories/${id}`)).json
  }
}

const PATHS = [
  '',
  '/changes',
  '/undo',
  '/redo',
  '/return',
  '/history',
  '/search',
  '/export',
  '/duplicate',
  '/restore',
  '/versions',
  '/at/0',
  '/at/x',
  '/events',
  '/versions/x',
]

/** One request that nobody would send: whatever it is, the server answers it with less than 500 and lives. */
export async function fuzzRequest(seed: number, report: Report, served: Served, ids: readonly string[]): Promise<void> {
  const random = seededRandom(seed)
  const id = random.pick([
    ...ids,
    'none',
    '../..',
    randomUUID(),
    randomUUID().toUpperCase(),
    '%00',
    encodeURIComponent(randomText(random).toWellFormed()),
  ])
  const path = random.chance(0.2)
    ? `/api/stories${random.pick(['', '?q=%25', '?from=-1', '?q=%F0%9F', `?q=${'x'.repeat(random.below(3000))}`])}`
    : `/api/stories/${id}${random.pick(PATHS)}${random.pick(['', '', '?before=x', '?q=a&q=b', '?before=99999999999999999999'])}`
  const method = random.pick([
    'GET',
    'GET',
    'POST',
    'POST',
    'POST',
    'DELETE',
    'PUT',
    'TRACE',
    'OPTIONS',
    'PATCH',
    'HEAD',
  ])
  const body = random.chance(0.5)
    ? JSON.stringify(
        random.chance(0.5)
          ? randomJson(random)
          : {
              request: randomUUID(),
              revision: random.below(5),
              change: randomJson(random),
              name: randomText(random),
              title: randomText(random),
            },
      )
    : randomText(random, 200)
  const headers: Record<string, string> = {
    host: random.chance(0.95) ? `127.0.0.1:${served.port}` : randomText(random, 8).replace(/[^a-z0-9.]/gi, 'x'),
    ...(random.chance(0.7)
      ? {
          'content-type': random.pick([
            'application/json',
            'application/octet-stream',
            'text/plain',
            'multipart/form-data',
          ]),
        }
      : {}),
    ...(random.chance(0.1)
      ? { origin: random.pick(['null', 'http://evil.example', `http://127.0.0.1:${served.port}`]) }
      : {}),
    ...(random.chance(0.1) ? { 'next-action': 'x', rsc: '1' } : {}),
    ...(random.chance(0.03) ? { upgrade: 'websocket', connection: 'upgrade' } : {}),
  }
  report.count('requests')
  // the story that others use stays
  if (method === 'DELETE' && ids.includes(id)) return
  const status = await new Promise<number | 'cut' | 'hang'>((done) => {
    const sent = httpRequest(
      {
        host: '127.0.0.1',
        port: served.port,
        path: random.chance(0.02) ? 'http://evil.example/' : path,
        method,
        headers,
        timeout: ANSWER_MS,
      },
      (answer) => {
        // a stream does not end by itself
        if (String(answer.headers['content-type']).includes('event-stream')) sent.destroy()
        answer.resume()
        answer.on('close', () => done(answer.statusCode!))
      },
    )
    sent.on('error', () => done('cut'))
    sent.on('timeout', () => {
      sent.destroy()
      done('hang')
    })
    sent.end(method === 'GET' || method === 'HEAD' ? undefined : body)
  })
  if (status === 'hang') report.find({ part: 'requests', seed, kind: 'hang', said: `${method} ${path}` })
  if (typeof status === 'number' && status >= 500)
    report.find({ part: 'requests', seed, kind: 'crash', said: `${status}: ${method} ${path} ${body.slice(0, 300)}` })
  if (!served.isAlive)
    report.find({
      part: 'requests',
      seed,
      kind: 'crash',
      said: `the server ended: ${method} ${path} ${body.slice(0, 300)}`,
    })
}

/** What the reader of files takes is imported, and what it refuses is refused, in both cases with the same reason. */
export async function fuzzImport(seed: number, report: Report, served: Served): Promise<void> {
  const random = seededRandom(seed)
  const sent = mutate(randomStory(seed % 4000, 'tiny'), random)
  report.count('imports')
  const read = readStory(JSON.stringify(sent))
  const { status, id } = await served.import(sent)
  if (status !== (read.ok ? 200 : 422))
    report.find({
      part: 'imports',
      seed,
      kind: 'wrong refusal',
      said: `${status} where the reader ${read.ok ? 'takes it' : 'refuses it'}`,
    })
  if (!read.ok || id === '') return
  const { story } = await served.open(id)
  if (!isSame(story, read.value))
    report.find({ part: 'imports', seed, kind: 'lost', said: 'the story is not what was sent' })
  await served.ask('DELETE', `/api/stories/${id}`)
}

/**
 * Several clients edit one story, each on what it knows, take back and return; with `kills`, the server is killed in the
 * middle and started again. What was acknowledged is there, once, and every client's story is the server's.
 */
export async function fuzzEdits(seed: number, report: Report, served: Served, kills: number): Promise<void> {
  const random = seededRandom(seed)
  const part = kills > 0 ? 'edits with kills' : 'edits'
  const find = (kind: 'lost' | 'wrong answer' | 'crash', said: string) => report.find({ part, seed, kind, said })
  const first = JSON.parse(JSON.stringify(randomStory(seed % 4000))) as Story
  const { id } = await served.import(first)
  /** What was acknowledged, by revision; the changes as the server says that it made them. */
  const done = new Map<number, Change>()
  const client = async (own: Random) => {
    let { story, revision } = await served.open(id)
    for (let step = 0; step < 12; step += 1) {
      report.count(part)
      const request = randomUUID()
      const kind = own.below(10)
      const [path, body] =
        kind === 0
          ? ['undo', { request }]
          : kind === 1
            ? ['redo', { request }]
            : kind === 2
              ? ['return', { request, revision: own.below(revision + 1) }]
              : ['changes', { request, change: basedOn(story, randomChange(story, own)) }]
      const send = () => served.ask('POST', `/api/stories/${id}/${path}`, body).catch(() => undefined)
      let answer = await send()
      // away, or on its way: sent again under the same name, as the page does
      for (let tries = 0; (answer === undefined || answer.status >= 500) && tries < 200; tries += 1) {
        await sleep(50)
        answer = await send()
      }
      if (answer === undefined || answer.status >= 500)
        return find('crash', `${path} ${answer?.status} ${answer?.text}`)
      // its answer was lost: it is sent again, and is not carried out twice
      if (answer.status === 200 && own.chance(0.1)) {
        const again = await send()
        const before = (answer.json as { revision: number }).revision
        if (again !== undefined && again.status < 500 && (again.json as { revision?: number }).revision !== before)
          find('wrong answer', `sent again after revision ${before}: ${again.status} ${again.text}`)
      }
      if (answer.status === 200)
        done.set((answer.json as { revision: number }).revision, (answer.json as { change: Change }).change)
      if (own.chance(0.6)) ({ story, revision } = await served.open(id).catch(() => ({ story, revision })))
    }
  }
  const clients = Array.from({ length: 3 }, (_, at) => client(seededRandom(seed * 7 + at)))
  const all = Promise.all(clients)
  for (let kill = 0; kill < kills; kill += 1) {
    await Promise.race([all, sleep(100 + random.below(400))])
    await served.end('SIGKILL')
    await served.begin()
  }
  await all
  const { story, revision } = await served.open(id)
  let model = first
  for (let at = 1; at <= revision; at += 1) {
    const change = done.get(at)
    if (change === undefined) return find('lost', `nobody was told of revision ${at} of ${revision}`)
    const applied = applyChange(model, change)
    if (!applied.ok) return find('lost', `revision ${at} does not follow: ${applied.error}`)
    model = applied.value.story
    if (random.chance(0.1)) {
      const then = await served.ask('GET', `/api/stories/${id}/at/${at}`)
      if (!isSame((then.json as { story: Story }).story, model)) find('wrong answer', `the story was not this at ${at}`)
    }
  }
  if (Math.max(0, ...done.keys()) > revision)
    find('lost', `revision ${Math.max(...done.keys())} was acknowledged, the server is at ${revision}`)
  if (!isSame(model, story)) find('lost', 'the story is not what was acknowledged')
  await served.ask('DELETE', `/api/stories/${id}`)
}

/** A server that is killed while it starts: the next start works, and everything is there. */
export async function fuzzStart(seed: number, report: Report, folder: string, title: string): Promise<void> {
  const random = seededRandom(seed)
  report.count('starts')
  const killed = await Served.start(folder, undefined, 100 + random.below(1_600))
  await killed.end('SIGKILL')
  try {
    const served = await Served.start(folder)
    const { text } = await served.ask('GET', '/api/stories')
    if (!text.includes(JSON.stringify(title)))
      report.find({ part: 'starts', seed, kind: 'lost', said: `“${title}” is not in ${text.slice(0, 300)}` })
    await served.end(random.chance(0.5) ? 'SIGTERM' : 'SIGKILL')
  } catch (error) {
    report.find({ part: 'starts', seed, kind: 'crash', said: (error as Error).message })
  }
}

/** A disk that is full: edits are refused with a sentence, reading goes on, saving goes on once there is room, and it stops in time. */
export async function fuzzFullDisk(seed: number, report: Report): Promise<void> {
  const find = (kind: 'hang' | 'wrong answer' | 'lost', said: string) =>
    report.find({ part: 'full disk', seed, kind, said })
  report.count('full disk')
  const folder = await mkdtemp(join(tmpdir(), 'paper-compass-full-'))
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=160m', 'tmpfs', folder], { encoding: 'utf8' })
  if (mounted.status !== 0)
    throw new Error(`a small disk can not be mounted: ${mounted.stderr}; this needs the rights to do so`)
  try {
    const served = await Served.start(folder, seed % 2 === 0 ? '8' : '0')
    const { id } = await served.import(randomStory(seed % 100))
    const edit = (notes: string) =>
      served
        .ask('POST', `/api/stories/${id}/changes`, {
          request: randomUUID(),
          change: { op: 'set-story', values: { notes } },
        })
        .catch((error: Error) => ({ status: 0, text: error.message, json: undefined as never }))
    if ((await edit('before')).status !== 200) find('wrong answer', 'an edit on a disk with room is refused')
    const filler = join(folder, 'filler')
    const { bavail, bsize } = await statfs(folder)
    await writeFile(filler, Buffer.alloc(Math.max(0, bavail * bsize - 4096)))
    let refused = 0
    let last = 'before'
    for (let times = 0; times < 40 && refused < 3; times += 1) {
      const notes = `full ${times} ${'x'.repeat(20_000)}`
      const answer = await edit(notes)
      if (answer.status === 200) last = notes
      else if (answer.status === 507 || answer.status === 503) refused += 1
      else find('wrong answer', `an edit on a full disk: ${answer.status} ${answer.text}`)
    }
    if (refused === 0) find('wrong answer', 'a full disk refuses nothing')
    const read = await served
      .ask('GET', `/api/stories/${id}`)
      .catch((error: Error) => ({ status: 0, text: error.message }))
    // without a reserve PostgreSQL itself can need room to be read after it failed
    if (read.status !== 200 && seed % 2 === 0)
      find('wrong answer', `reading on a full disk: ${read.status} ${read.text}`)
    await truncate(filler)
    let after = await edit('after')
    for (let tries = 0; after.status !== 200 && tries < 60; tries += 1) {
      await sleep(250)
      after = await edit('after')
    }
    if (after.status !== 200) find('wrong answer', `with room again: ${after.status} ${after.text}`)
    else {
      const { story } = await served.open(id)
      if (story.notes !== 'after') find('lost', `the note is ${story.notes?.slice(0, 20)}, after ${last.slice(0, 20)}`)
    }
    const took = await served.end('SIGTERM')
    if (took > STOP_MS) find('hang', `stopping took ${Math.round(took)} ms`)
    await served.end('SIGKILL')
  } finally {
    spawnSync('umount', ['-l', folder])
    await rm(folder, { recursive: true, force: true })
  }
}
