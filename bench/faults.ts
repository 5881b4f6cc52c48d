import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { chmodSync, existsSync, mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import pg from 'pg'
import { isSame } from '../src/core/base/same'
import type { Story } from '../src/core/story/types'
import { shortStory } from '../test/short-story'
import { PostgresServer } from '../test/postgres'
import { ordinary } from './stories/families'
import { asJson, listen, membersOf, notesEdit, print, send, sharedStory, shares, sleep, startProcess } from './studio'
import type { Headers, Process } from './studio'

/** What goes wrong in a studio, on purpose, while eight people write one story, and what is left of their edits. Figures, no verdict: whoever runs it reads them. */

const EDITS = Number(process.env.EDITS || 1_000)
const PEOPLE = 8
const PROCESSES = 3
const AWAY_S = Number(process.env.AWAY_S || 60)
/** Where the server's files may be on a disk that is small; needs the right to mount. */
const DISK_MB = 160
const FAKETIME = '/usr/lib/x86_64-linux-gnu/faketime/libfaketime.so.1'

const story = ordinary(100)
const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-faults-'))
const disk = join(folder, 'disk')
// the server's user has to come by
chmodSync(folder, 0o755)
mkdirSync(disk)
const clock = join(folder, 'clock')
writeFileSync(clock, '+0')

let hasDisk = true
try {
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m,mode=777`, 'tmpfs', disk])
} catch {
  hasDisk = false
}
const plain = process.env.TMPDIR
process.env.TMPDIR = hasDisk ? disk : folder
const server = await PostgresServer.start()
process.env.TMPDIR = plain ?? ''
if (plain === undefined) delete process.env.TMPDIR
const url = await server.database('faults')

const processes: Process[] = []
const workers: ChildProcess[] = []
let isOver = false

/** Starts a process, the first of them with a clock that can be set. */
async function begin(at: number): Promise<void> {
  const before = { ...process.env }
  if (at === 0 && existsSync(FAKETIME))
    Object.assign(process.env, {
      LD_PRELOAD: FAKETIME,
      FAKETIME_TIMESTAMP_FILE: clock,
      FAKETIME_NO_CACHE: '1',
      FAKETIME_DONT_FAKE_MONOTONIC: '1',
    })
  const starting = startProcess(url, join(folder, String(at)), processes[at]?.port)
  for (const name of ['LD_PRELOAD', 'FAKETIME_TIMESTAMP_FILE', 'FAKETIME_NO_CACHE', 'FAKETIME_DONT_FAKE_MONOTONIC'])
    if (before[name] === undefined) delete process.env[name]
  processes[at] = await starting
  processes[at].child.removeAllListeners('exit')
}

function hire(): void {
  const worker = spawn(process.execPath, [resolve('scripts/worker.mjs')], {
    env: { ...process.env, PAPER_COMPASS_DATABASE_URL: url, PAPER_COMPASS_WORK_LOST_SECONDS: '3' },
    stdio: 'ignore',
  })
  workers.push(worker)
}

for (let at = 0; at < PROCESSES; at += 1) await begin(at)
const members = await membersOf(processes[0]!, PEOPLE)
const id = await sharedStory(processes[0]!.address, members[0]!, story)
// one that is played quickly
const played = await sharedStory(processes[0]!.address, members[0]!, shortStory('Played', 'The tide turns.'))
hire()
hire()

const acknowledged = new Set<string>()
let made = 0
let unanswered = 0
const refusals = new Map<string, number>()

/** One edit, sent as the page sends it: until it is answered, by whichever process is there. */
async function edit(person: number): Promise<number> {
  made += 1
  const one = notesEdit(story, made, `Edit ${made}: the tide turns.`)
  const from = performance.now()
  for (let tries = 0; ; tries += 1) {
    const { address } = processes[(person + tries) % PROCESSES]!
    const answer = await send(address, id, members[person]!, one).catch(() => undefined)
    if (answer?.ok) break
    if (answer === undefined) unanswered += 1
    else refusals.set(String(answer.status), (refusals.get(String(answer.status)) ?? 0) + 1)
    await answer?.text()
    await sleep(300)
  }
  acknowledged.add(one.request)
  return performance.now() - from
}

/** Edits by everybody until so many were made, or for so long. */
async function write(goOn: () => boolean): Promise<number[]> {
  const took: number[] = []
  await Promise.all(
    members.map(async (_, person) => {
      while (goOn()) {
        took.push(await edit(person))
        await sleep(20)
      }
    }),
  )
  return took
}

/** A window that is told of changes, asks anew whenever its line is lost, and knows at which revision it is. */
class Window {
  revision = 0
  lost = 0

  constructor(
    private readonly at: number,
    private readonly who: Headers,
  ) {
    void this.follow()
  }

  private async follow(): Promise<void> {
    for (let tries = 0; !isOver; tries += 1) {
      const { address } = processes[(this.at + tries) % PROCESSES]!
      const answer = await fetch(`${address}/api/stories/${id}`, { headers: this.who }).catch(() => undefined)
      if (answer?.ok) {
        const { revision } = (await answer.json()) as { revision: number }
        if (revision < this.revision) console.error(`a window went back from ${this.revision} to ${revision}`)
        this.revision = revision
        const missed = new AbortController()
        const hear = ({ revision: told }: { readonly revision: number }) => {
          if (told === this.revision + 1) this.revision = told
          else if (told > this.revision) missed.abort()
        }
        await listen(address, id, this.who, hear, missed.signal).catch(() => undefined)
      }
      this.lost += 1
      await sleep(300)
    }
  }
}

/** Only what has this in its name. */
const ONLY = process.env.ONLY ?? ''

async function phase(name: string, work: () => Promise<number[]>): Promise<void> {
  if (!name.includes(ONLY)) return
  refusals.clear()
  unanswered = 0
  const [before, from] = [acknowledged.size, performance.now()]
  const took = await work()
  const seconds = (performance.now() - from) / 1000
  print(`${name}: edits acknowledged, in seconds`, `${acknowledged.size - before}, ${seconds.toFixed(1)}`)
  print(`${name}: until acknowledged`, shares(took))
  const said = [...refusals].map(([status, times]) => `${times} × ${status}`).join(', ')
  print(`${name}: tries without an answer, refused`, `${unanswered}, ${said || 'none'}`)
  await check(name)
}

/** Holds what was acknowledged against the database, the processes and the windows. */
async function check(name: string): Promise<void> {
  const client = new pg.Client(url)
  await client.connect()
  const { rows } = await client.query<{ request: string; times: number }>(
    'select request_id::text as request, count(*)::int as times from journal where story_id = $1 group by 1',
    [id],
  )
  await client.end()
  const times = new Map(rows.map(({ request, times: count }) => [request, count]))
  const lost = [...acknowledged].filter((request) => !times.has(request)).length
  const twice = [...times.values()].filter((count) => count > 1).length
  const stories: Story[] = []
  let revision = 0
  for (const { address } of processes) {
    const answer = await fetch(`${address}/api/stories/${id}`, { headers: members[0]! })
    const opened = (await answer.json()) as { story: Story; revision: number }
    stories.push(opened.story)
    revision = opened.revision
  }
  for (let wait = 0; wait < 300 && windows.some((one) => one.revision !== revision); wait += 1) await sleep(100)
  const inStep = windows.filter((one) => one.revision === revision).length
  print(`${name}: lost, made twice`, `${lost}, ${twice}`)
  print(
    `${name}: processes of one mind, windows in step`,
    `${stories.every((one) => isSame(one, stories[0]))}, ${inStep} of ${windows.length}`,
  )
}

const windows = members.map((who, at) => new Window(at, who))
await sleep(2_000)

/** Something goes wrong now and then for as long as it is written. */
async function troubled(goOn: () => boolean, pauseMs: number, trouble: () => Promise<void>): Promise<number[]> {
  let times = 0
  const [took] = await Promise.all([
    write(goOn),
    (async () => {
      while (goOn()) {
        await sleep(pauseMs)
        await trouble()
        times += 1
      }
    })(),
  ])
  print('  so many times', String(times))
  return took
}
const upTo = (count: number) => {
  const until = made + count
  return () => made < until
}

try {
  await phase('application killed', () => {
    let next = 1
    return troubled(upTo(EDITS), 1_500, async () => {
      const { child } = processes[next]!
      child.kill('SIGKILL')
      await once(child, 'exit')
      await begin(next)
      next = next === 1 ? 2 : 1
    })
  })
  await phase('database killed', () =>
    troubled(upTo(EDITS), 1_500, async () => {
      await server.end('SIGKILL')
      await sleep(500)
      await server.begin()
    }),
  )
  await phase('worker killed', async () => {
    const { address } = processes[0]!
    const options = { player: { kind: 'random' }, seed: 1 }
    const job = await asJson<{ id: string }>(address, `/api/stories/${played}/jobs`, members[0]!, {
      kind: 'simulate',
      plays: 2_000_000,
      options,
    })
    const took = await troubled(upTo(EDITS), 5_000, async () => {
      workers.shift()!.kill('SIGKILL')
      hire()
      await Promise.resolve()
    })
    for (;;) {
      const listed = await fetch(`${address}/api/stories/${played}/jobs`, { headers: members[0]! })
      const { jobs } = (await listed.json()) as { jobs: { id: string; state: string; failure: string | null }[] }
      const one = jobs.find((each) => each.id === job.id)!
      if (one.state === 'done' || one.state === 'failed') {
        const result = await fetch(`${address}/api/stories/${played}/jobs/${job.id}`, { headers: members[0]! })
        const plays = one.state === 'done' ? ((await result.json()) as { plays: number }).plays : one.failure
        print('  the work that they had: playthroughs wanted, counted', `2000000, ${plays}`)
        return took
      }
      await sleep(500)
    }
  })
  await phase(`database away for ${AWAY_S} s`, async () => {
    let isAway = true
    const [took] = await Promise.all([
      write(() => isAway),
      (async () => {
        await sleep(1_000)
        await server.end()
        await sleep(AWAY_S * 1000)
        await server.begin()
        await sleep(3_000)
        isAway = false
      })(),
    ])
    return took
  })
  if (existsSync(FAKETIME)) {
    const jumps = (process.env.JUMPS ?? '+2h,-2h,+10d,-1d,+0').split(',')
    await phase(`clock of one process set ${jumps.join(', ')}`, () =>
      troubled(upTo(EDITS / 2), 1_000, () => {
        const jump = jumps.shift()
        if (jump !== undefined) writeFileSync(clock, jump)
        return Promise.resolve()
      }),
    )
  } else print('clock', 'not set: libfaketime is not here')
  if (hasDisk) {
    await phase('disk of the database full', async () => {
      let isFull = true
      const [took] = await Promise.all([
        write(() => isFull),
        (async () => {
          await sleep(1_000)
          const { bavail, bsize } = statfsSync(disk)
          const filler = join(disk, 'filler')
          // all but what is left to any program of a user
          for (let left = bavail * bsize, part = 0; left > 0; left -= 1 << 20, part += 1)
            try {
              writeFileSync(`${filler}${part}`, Buffer.alloc(Math.min(left, 1 << 20)))
            } catch {
              break
            }
          await sleep(15_000)
          for (let part = 0; part <= DISK_MB; part += 1) rmSync(`${filler}${part}`, { force: true })
          await server.begin().catch(() => undefined)
          await sleep(4_000)
          isFull = false
        })(),
      ])
      return took
    })
  } else print('full disk', 'not tried: nothing could be mounted')
  print('windows had to ask anew', windows.map(({ lost }) => lost).join(', '))
} finally {
  isOver = true
  for (const { child } of processes) child.kill('SIGKILL')
  for (const worker of workers) worker.kill('SIGKILL')
  await server.remove()
  if (hasDisk) execFileSync('umount', ['-l', disk])
  await rm(folder, { recursive: true, force: true })
}
process.exit(0)
