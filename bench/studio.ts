import { spawn, type ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Story } from '../src/core/story/types'
import { freePort } from '../test/free-port'

/** One process of the application, on a server's database. */
export interface Process {
  readonly port: number
  readonly address: string
  readonly child: ChildProcess
  /** What it printed until it was ready. */
  readonly said: string
}

export type Headers = Readonly<Record<string, string>>

/** Starts a process of the application, with accounts, behind what counts as a proxy: so each person has an address of their own. */
export async function startProcess(url: string, folder: string, port?: number): Promise<Process> {
  port ??= await freePort()
  const child = spawn(process.execPath, [resolve('scripts/start.mjs')], {
    env: {
      ...process.env,
      PORT: String(port),
      PAPER_COMPASS_DATA: folder,
      PAPER_COMPASS_DATABASE_URL: url,
      PAPER_COMPASS_PROXIES: '127.0.0.1',
      PAPER_COMPASS_STREAMS: '2000',
      PAPER_COMPASS_CONNECTIONS: '4000',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  let said = ''
  await new Promise<void>((ready, fail) => {
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString()
      if (said.includes('is ready')) ready()
    })
    child.on('exit', (code) => fail(new Error(`an application process ended with ${code}: ${said}`)))
  })
  return { port, address: `http://127.0.0.1:${port}`, child, said }
}

/** Resident memory of a process, in megabytes. */
export function memoryOf({ child }: Pick<Process, 'child'>): number {
  const status = readFileSync(`/proc/${child.pid}/status`, 'utf8')
  return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024)
}

export function shares(found: readonly number[]): string {
  const sorted = [...found].sort((a, b) => a - b)
  const at = (share: number) =>
    `${Math.round(sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0)}`
  return `p50 ${at(0.5)}, p95 ${at(0.95)}, p99 ${at(0.99)}, most ${at(1)} ms (${sorted.length})`
}

export const print = (name: string, value: string) => console.log(`${name.padEnd(58)} ${value}`)
export const sleep = (ms: number) => new Promise<void>((resume) => setTimeout(resume, ms))

async function come(address: string, path: string, key: string, person: number): Promise<Headers> {
  const forwarded = { 'X-Forwarded-For': `10.1.${person >> 8}.${person & 255}` }
  const answer = await fetch(address + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...forwarded },
    body: JSON.stringify({
      key,
      name: `Person ${person}`,
      email: `person${person}@studio.example`,
      password: `the long words of ${person}`,
    }),
  })
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`)
  const Cookie = answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';')[0])
    .join('; ')
  return { ...forwarded, Cookie }
}

/** So many people, the first of them the owner of the server; by what each asks from then on. */
export async function membersOf({ address, said }: Process, people: number): Promise<Headers[]> {
  const key = new URL(/http:\S+\/begin\?key=\S+/.exec(said)![0]).searchParams.get('key')!
  const all = [await come(address, '/api/begin', key, 0)]
  for (let person = 1; person < people; person += 1) {
    const made = await asJson<{ key: string }>(address, '/api/invitations', all[0]!, { kind: 'join', note: '' })
    all.push(await come(address, '/api/join', made.key, person))
  }
  return all
}

export async function asJson<T>(address: string, path: string, who: Headers, body: unknown): Promise<T> {
  const answer = await fetch(address + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...who },
    body: JSON.stringify(body),
  })
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`)
  return (await answer.json()) as T
}

/** Puts a story in that everybody may write. */
export async function sharedStory(address: string, owner: Headers, story: Story): Promise<string> {
  const answer = await fetch(`${address}/api/stories`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream', ...owner },
    body: JSON.stringify(story),
  })
  const { id } = (await answer.json()) as { id: string }
  await asJson(address, `/api/stories/${id}/everyone`, owner, { role: 'writer' })
  return id
}

/** Hears of a story's changes as a window does, and first of the revision that it is at, until the stream ends. */
export async function listen(
  address: string,
  story: string,
  who: Headers,
  hear: (told: { readonly request?: string; readonly revision: number }) => void,
  signal?: AbortSignal,
): Promise<void> {
  const answer = await fetch(`${address}/api/stories/${story}/events`, { headers: who, signal: signal ?? null })
  if (!answer.ok) throw new Error(`the stream answered ${answer.status}`)
  let text = ''
  for await (const chunk of answer.body!.pipeThrough(new TextDecoderStream())) {
    text += chunk
    const events = text.split('\n\n')
    text = events.pop()!
    for (const event of events) {
      const data = /^event: (?:change|at)\ndata: (.*)/.exec(event)?.[1]
      if (data !== undefined) hear(JSON.parse(data) as { request?: string; revision: number })
    }
  }
}

/** The edit by which beat `at` of the first scene gets notes. */
export function notesEdit(
  story: Story,
  at: number,
  notes: string,
): { readonly request: string; readonly change: object } {
  const scene = story.scenes[0]!
  const beat = scene.beats[at % scene.beats.length]!
  const change = {
    op: 'replace',
    in: { list: 'beats', scene: scene.id },
    id: beat.id,
    at: at % scene.beats.length,
    item: { ...beat, notes },
  }
  return { request: randomUUID(), change }
}

/** Sends an edit once. Throws where no answer comes. */
export function send(address: string, story: string, who: Headers, edit: object): Promise<Response> {
  return fetch(`${address}/api/stories/${story}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...who },
    body: JSON.stringify(edit),
  })
}
