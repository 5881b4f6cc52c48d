import { mkdtemp, rm } from 'node:fs/promises'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { PostgresServer } from '../test/postgres'
import { ordinary } from './stories/families'
import { listen, membersOf, memoryOf, notesEdit, print, send, sharedStory, shares, sleep, startProcess } from './studio'
import type { Process } from './studio'

/** A studio: many people, signed in, on many stories, several application processes, one PostgreSQL server, all on this machine. */

const PEOPLE = Number(process.env.PEOPLE || 200)
const STORIES = Number(process.env.STORIES || 50)
const PROCESSES = Number(process.env.PROCESSES || 4)
const BEATS = Number(process.env.BEATS || 100)
const SECONDS = Number(process.env.SECONDS || 60)
/** Each person's pause between two edits, in milliseconds. */
const PAUSE_MS = Number(process.env.PAUSE_MS || 5_000)
/** Only at this pace, not without one. */
const ONLY_PACE = process.env.ONLY_PACE === '1'

const story = ordinary(BEATS)
const server = await PostgresServer.start()
const folder = await mkdtemp(join(tmpdir(), 'paper-compass-bench-team-'))
const processes: Process[] = []
const leaving = new AbortController()
try {
  const url = await server.database('team')
  for (let at = 0; at < PROCESSES; at += 1) processes.push(await startProcess(url, join(folder, String(at))))
  console.log(`${cpus().length} × ${cpus()[0]?.model ?? 'unknown'} · node ${process.version}`)
  console.log(
    `${PEOPLE} members on ${STORIES} stories of ${BEATS} beats, ${PROCESSES} processes; database, people and all on this machine\n`,
  )
  const members = await membersOf(processes[0]!, PEOPLE)
  const ids: string[] = []
  for (let at = 0; at < STORIES; at += 1)
    ids.push(await sharedStory(processes[at % PROCESSES]!.address, members[0]!, story))
  const client = new pg.Client(url)
  await client.connect()
  const size = async () =>
    Number((await client.query<{ size: string }>('select pg_database_size(current_database()) as size')).rows[0]!.size)

  const sent = new Map<string, number>()
  const seen: number[] = []
  let heard = 0
  // whoever works on a story shares it with others, on other processes
  const placeOf = (person: number) => ({
    address: processes[Math.floor(person / STORIES) % PROCESSES]!.address,
    id: ids[person % STORIES]!,
    who: members[person]!,
  })
  const windowsOf = (id: string) => members.filter((_, person) => placeOf(person).id === id).length
  for (let person = 0; person < PEOPLE; person += 1) {
    const { address, id, who } = placeOf(person)
    const hear = ({ request }: { request?: string }) => {
      if (request === undefined) return
      heard += 1
      seen.push(performance.now() - (sent.get(request) ?? NaN))
    }
    listen(address, id, who, hear, leaving.signal).catch(
      (error: Error) => leaving.signal.aborted || console.error(`a window hears no more: ${error.message}`),
    )
  }
  await sleep(3_000)

  let edits = 0
  let refused = 0
  let toHear = 0
  const edit = async (person: number): Promise<number> => {
    const { address, id, who } = placeOf(person)
    edits += 1
    const one = notesEdit(story, edits, `Edit ${edits}: the tide turns.`)
    const from = performance.now()
    sent.set(one.request, from)
    const answer = await send(address, id, who, one)
    const said = await answer.text()
    if (answer.ok) toHear += windowsOf(id)
    else if ((refused += 1) === 1) console.error(`refused: ${answer.status} ${said}`)
    return performance.now() - from
  }

  const phase = async (name: string, people: number, pauseMs: number, seconds: number) => {
    seen.length = 0
    const [before, from, had] = [await size(), performance.now(), edits]
    const answered: number[] = []
    const until = from + seconds * 1000
    await Promise.all(
      Array.from({ length: people }, async (_, person) => {
        if (pauseMs > 0) await sleep(Math.random() * pauseMs)
        while (performance.now() < until) {
          answered.push(await edit(person))
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
  if (STORIES > 1 && !ONLY_PACE) await phase('one person on each story, without a pause', STORIES, 0, SECONDS / 3)
  if (!ONLY_PACE) await phase('everybody, without a pause', PEOPLE, 0, SECONDS / 3)
  for (let wait = 0; wait < 150 && heard < toHear; wait += 1) await sleep(100)
  print('memory of each process', `${processes.map(memoryOf).join(', ')} MB`)
  const kept = await client.query<{ kept: string }>('select sum(revision) as kept from story')
  print('edits acknowledged, in the database, refused', `${edits - refused}, ${kept.rows[0]!.kept}, ${refused}`)
  print('changes to be heard by windows, and heard', `${toHear}, ${heard}`)
  await client.end()
} finally {
  leaving.abort()
  for (const { child } of processes) child.removeAllListeners('exit').kill('SIGTERM')
  await server.remove()
  await rm(folder, { recursive: true, force: true })
}
process.exit(0)
