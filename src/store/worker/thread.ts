import { parentPort, workerData } from 'node:worker_threads'
import { DatabaseAway } from '../database'
import { DamagedFolder, freeBytes } from '../folder'
import { Runner } from '../jobs/runner'
import { openStore, type Store } from '../open'
import { READING, storeCalls } from './calls'
import type { Answer, Call, Failure, ThreadData, Watch } from './protocol'

/** Changes after which what is on disk is tidied up. */
const TIDY_AFTER = 400

const port = parentPort!
const { data, server, migrations, samples, reader, reserve, work } = workerData as ThreadData
const say = (answer: Answer) => port.postMessage(answer)

const FULL: Failure = {
  kind: 'full',
  message: 'The disk is full, so this was not saved. Make room on it; saving then goes on by itself.',
}

const AWAY: Failure = {
  kind: 'away',
  message: 'The database does not answer at the moment.',
}

function failureOf(error: unknown): Failure {
  if (error instanceof DatabaseAway) return AWAY
  const message = error instanceof Error ? error.message : String(error)
  if (/no space left|ENOSPC|could not extend|disk full/i.test(message)) return FULL
  // what the database says may hold a story's words; it is not written down
  return { kind: 'fault', message: 'The store could not do this.' }
}

let runner: Runner | undefined

try {
  const store = await openStore({ data, server, migrations, samples }, new Date())
  store.stories.tell = (story, told) => say({ kind: 'told', story, told: JSON.stringify(told) })
  store.stories.news =
    store.threads.news =
    store.jobs.news =
      (story, event, data) => say({ kind: 'news', story, event, data })
  store.members.told = (member) => say({ kind: 'access', member })
  serve(store)
  say({ kind: 'ready' })
  if (server === undefined && work !== undefined) void workHere(store, work)
} catch (error) {
  const isDamaged = error instanceof DamagedFolder
  const why = (error as Error).message
  say({
    kind: 'closed',
    message: isDamaged
      ? why
      : server === undefined
        ? `the data folder ${data} can not be opened: ${why}`
        : `the database of PAPER_COMPASS_DATABASE_URL can not be opened: ${why}`,
    isDamaged,
  })
}

function serve(store: Store): void {
  const calls = storeCalls(store, {
    data,
    reader,
    stopWork: async () => runner?.stop(),
    progress: (id, done, of) => say({ kind: 'progress', import: id, done, of }),
  })
  let tidying = Promise.resolve()
  const isFull = async () => server === undefined && (await freeBytes(data)) < reserve
  port.on('message', (asked: Call | Watch) => {
    if ('watch' in asked) {
      if (!asked.isOn) store.stories.unwatch(asked.watch)
      // who listens hears of a database that is away by what is asked next
      else store.stories.watch(asked.watch).catch(() => undefined)
      return
    }
    const { id, name, args } = asked
    void (async () => {
      try {
        if (!READING.has(name) && (await isFull())) return say({ kind: 'failure', id, failure: FULL })
        await tidying
        const call = calls[name] as (...args: readonly unknown[]) => Promise<unknown>
        say({ kind: 'answer', id, value: await call(...args) })
        if (server === undefined && store.stories.written >= TIDY_AFTER) {
          store.stories.written = 0
          tidying = tidy(store)
        }
      } catch (error) {
        say({ kind: 'failure', id, failure: failureOf(error) })
      }
    })()
  })
}

/** What is asked for of a folder's stories is done in a thread of this process. */
async function workHere(store: Store, how: NonNullable<ThreadData['work']>): Promise<void> {
  const trouble = (what: string) => console.error(what)
  try {
    runner = await Runner.start(store, { ...how, trouble })
  } catch {
    trouble('Heavy work can not be done here: the queue for it could not be opened.')
  }
}

/** This PostgreSQL has no helpers that do it by themselves: cuts the log of writes back, and takes room up again. */
async function tidy({ database }: Store): Promise<void> {
  try {
    await database.query('vacuum story, piece')
    await database.query('checkpoint')
  } catch (error) {
    console.error(`Tidying up the database failed: ${(error as Error).message.split('\n')[0]}`)
  }
}
