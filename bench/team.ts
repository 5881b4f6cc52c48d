import { randomUUID } from 'node:crypto'
import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { cpus, tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import pg from 'pg'
import { freePort } from '../test/free-port'
import { PostgresServer } from '../test/postgres'
import { ordinary } from './stories/families'

/** A studio: many people on many stories, several application processes, one PostgreSQL server, all on this machine. */

const PEOPLE = Number(process.env.PEOPLE || 200)
const STORIES = Number(process.env.STORIES || 50)
const PROCESSES = Number(process.env.PROCESSES || 4)
const BEATS = Number(process.env.BEATS || 100)
const SECONDS = Number(process.env.SECONDS || 60)
/** Each person's pause between two edits, in milliseconds. */
const PAUSE_MS = Number(process.env.PAUSE_MS || 5_000)

const print = (name: string, value: string) => console.log(`${name.padEnd(58)} ${value}`)
const sleep = (ms: number) => new Promise((resume) => setTimeout(resume, ms))

interface Process {
  readonly address: string
  readonly child: ChildProcess
}

async function start(url: string, folder: string): Promise<Process> {
  const port = await freePort()
  const child = spawn(process.execPath, [resolve('scripts/start.mjs')], {
    env: {
      ...process.env,
      PORT: String(port),
      PAPER_COMPASS_DATA: folder,
      PAPER_COMPASS_DATABASE_URL: url,
      PAPER_COMPASS_ACCOUNTS: 'off',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await new Promise<void>((ready, fail) => {
    child.stdout.on('data', (chunk: Buffer) => chunk.includes('is ready') && ready())
    child.on('exit', (code) => fail(new Error(`an application process ended with ${code}`)))
  })
  return { address: `http://127.0.0.1:${port}`, child }
}

/** Resident memory of a process, in megabytes. */
function memoryOf({ child }: Process): number {
  const status = readFileSync(`/proc/${child.pid}/status`, 'utf8')
  return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024)
}

function shares(found: readonly number[]): string {
  const sorted = [...found].sort((a, b) => a - b)
  const at = (share: number) =>
    `${Math.round(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0)}`
  return `p50 ${at(0.5)}, p95 ${at(0.95)}, p99 ${at(0.99)}, most ${at(1)} ms (${sorted.length})`
}

/** Hears of a story's changes as a window does. */
async function listen(
  { address }: Process,
  story: string,
  hear: (request: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const answer = await fetch(`${address}/api/stories/${story}/events`, { signal })
  let text = ''
  for await (const chunk of answer.body!.pipeThrough(new TextDecoderStream())) {
    text += chunk
    const events = text.split('\n\n')
    text = events.pop()!
    for (const event of events) {
      const request = /^event: change\ndata: .*"request":"([^"]+)"/.exec(event)?.[1]
      if (request !== undefined) hear(request)
    }
  }
}

const story = ordinary(BEATS)
const { beats } = story.scenes[0]!
let edits = 0
let refused = 0

/** One edit of one person, sent until it is answered. */
async function edit(at: Process, id: string, sent: Map<string, number>): Promise<number> {
  edits += 1
  const beat = beats[edits % beats.length]!
  const request = randomUUID()
  const item = { ...beat, notes: `Edit ${edits}: the tide turns.` }
  const change = {
    op: 'replace',
    in: { list: 'beats', scene: story.scenes[0]!.id },
    id: beat.id,
    at: edits % beats.length,
    item,
  }
  const from = performance.now()
  sent.set(request, from)
  const answer = await fetch(`${at.address}/api/stories/${id}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ request, change }),
  })
  const said = await answer.text()
  if (!answer.ok && (refused += 1) === 1) console.error(`refused: ${answer.status} ${said}`)
  return performance.now() - from
}

const server = await PostgresServer.start()
const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-team-'))
const processes: Process[] = []
const leaving = new AbortController()
try {
  const url = await server.database('team')
  for (let at = 0; at < PROCESSES; at += 1) processes.push(await start(url, join(folder, String(at))))
  console.log(`${cpus().length} × ${cpus()[0]?.model ?? 'unknown'} · node ${process.version}`)
  console.log(
    `${PEOPLE} people on ${STORIES} stories of ${BEATS} beats, ${PROCESSES} processes; database, people and all on this machine\n`,
  )
  const ids: string[] = []
  for (let at = 0; at < STORIES; at += 1) {
    const answer = await fetch(`${processes[at % PROCESSES]!.address}/api/stories`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: JSON.stringify(story),
    })
    ids.push(((await answer.json()) as { id: string }).id)
  }
  const client = new pg.Client(url)
  await client.connect()
  const size = async () =>
    Number((await client.query<{ size: string }>('select pg_database_size(current_database()) as size')).rows[0]!.size)

  const sent = new Map<string, number>()
  const seen: number[] = []
  // whoever works on a story shares it with others, on other processes
  const placeOf = (person: number) => ({
    at: processes[Math.floor(person / STORIES) % PROCESSES]!,
    id: ids[person % STORIES]!,
  })
  for (let person = 0; person < PEOPLE; person += 1) {
    const { at, id } = placeOf(person)
    listen(at, id, (request) => seen.push(performance.now() - (sent.get(request) ?? NaN)), leaving.signal).catch(
      () => undefined,
    )
  }
  await sleep(3_000)

  const phase = async (name: string, people: number, pauseMs: number, seconds: number) => {
    seen.length = 0
    const [before, from, had] = [await size(), performance.now(), edits]
    const answered: number[] = []
    const until = from + seconds * 1000
    await Promise.all(
      Array.from({ length: people }, async (_, person) => {
        const { at, id } = placeOf(person)
        if (pauseMs > 0) await sleep(Math.random() * pauseMs)
        while (performance.now() < until) {
          answered.push(await edit(at, id, sent))
          if (pauseMs > 0) await sleep(pauseMs * (0.5 + Math.random()))
        }
      }),
    )
    const made = edits - had
    await sleep(1_000)
    print(`${name}: edits a second`, (made / ((performance.now() - from - 1_000) / 1000)).toFixed(1))
    print(`${name}: an edit answered`, shares(answered))
    print(`${name}: an edit seen by a window`, shares(seen))
    print(
      `${name}: growth of the database`,
      `${((await size()) / 1024 / made - before / 1024 / made).toFixed(1)} kB an edit`,
    )
  }
  await phase(`everybody, an edit each ${PAUSE_MS / 1000} s`, PEOPLE, PAUSE_MS, SECONDS)
  if (STORIES > 1) await phase('one person on each story, without a pause', STORIES, 0, SECONDS / 3)
  await phase('everybody, without a pause', PEOPLE, 0, SECONDS / 3)
  print('memory of each process', `${processes.map(memoryOf).join(', ')} MB`)
  const kept = await client.query<{ kept: string }>('select sum(revision) as kept from story')
  print('edits acknowledged, in the database, refused', `${edits - refused}, ${kept.rows[0]!.kept}, ${refused}`)
  await client.end()
} finally {
  leaving.abort()
  for (const { child } of processes) child.removeAllListeners('exit').kill('SIGTERM')
  await server.remove()
  await rm(folder, { recursive: true, force: true })
}
process.exit(0)
