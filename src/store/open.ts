import { resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { backUpDaily } from './backup'
import type { Database } from './database'
import { fill, type FillPlaces } from './fill'
import { freeBytes, openFolder } from './folder'
import { Jobs } from './jobs/jobs'
import { Queue } from './jobs/queue'
import { Members } from './members'
import { openPostgres } from './postgres'
import { RESERVE_BYTES } from './reserve'
import { Stories } from './stories'
import { Threads } from './threads'

/** The samples that a database made with the build is filled with. */
const SAMPLES = fileURLToPath(new URL('../../samples', import.meta.url))

export interface StorePlaces extends FillPlaces {
  /** Where the data lie, unless a server has them. */
  readonly data: string
  /** The address of a database of a PostgreSQL server. */
  readonly server?: string | undefined
  /** Heavy work is done in this process, if a server has the data. */
  readonly works?: boolean
}

export interface Store {
  readonly stories: Stories
  readonly members: Members
  readonly threads: Threads
  readonly jobs: Jobs
  readonly queue: Queue
  readonly database: Database
  close(): Promise<void>
}

/** Opens the store of a server's database where there is one, else that of the data folder. */
export function openStore(places: StorePlaces, now: Date): Promise<Store> {
  return places.server === undefined ? openOwn(places, now) : openShared(places, places.server)
}

/** Opens the store of a database that other processes work on as well: the first of them makes its tables. */
async function openShared(places: StorePlaces, server: string): Promise<Store> {
  const database = await openPostgres(server)
  const stories = new Stories(database)
  const members = new Members(database)
  try {
    await database.alone(() => fill(database, places))
    await stories.follow((member) => members.told(member))
  } catch (error) {
    await database.close()
    throw error
  }
  return storeOf(stories, members, database, places.works)
}

function storeOf(stories: Stories, members: Members, database: Database, works = false): Store {
  const queue = new Queue(database, works)
  return {
    stories,
    members,
    threads: new Threads(database),
    jobs: new Jobs(database, queue),
    queue,
    database,
    close: async () => {
      await stories.idle()
      await queue.stop()
      await database.close()
    },
  }
}

/**
 * Opens the store of a data folder that this process owns, and makes the day's backup.
 */
async function openOwn(places: StorePlaces, now: Date): Promise<Store> {
  const prepared = resolve(places.samples) === SAMPLES ? 'samples' : 'tables'
  const database = await openFolder(places.data, (opened) => fill(opened, places), prepared)
  if ((await freeBytes(places.data)) > RESERVE_BYTES)
    await backUpDaily(database, places.data, now).catch((error: Error) =>
      console.error(`The day's backup could not be made: ${error.message}`),
    )
  return storeOf(new Stories(database), new Members(database), database, true)
}
