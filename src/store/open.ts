import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { linkStory } from '../core/story/link'
import { formatMalformed, readStory } from '../core/story/read'
import { keptSurvey } from '../core/survey/kept-survey'
import { storyFacts } from '../core/survey/questions/story-facts'
import { Survey } from '../core/survey/survey'
import { backUpDaily } from './backup'
import type { Database } from './database'
import { freeBytes, openFolder } from './folder'
import { Jobs } from './jobs/jobs'
import { Queue } from './jobs/queue'
import { Members } from './members'
import { migrate } from './migrate'
import { openPostgres } from './postgres'
import { RESERVE_BYTES } from './reserve'
import { Stories } from './stories'
import { Threads } from './threads'

export interface StorePlaces {
  /** Where the data lie, unless a server has them. */
  readonly data: string
  /** The address of a database of a PostgreSQL server. */
  readonly server?: string | undefined
  readonly migrations: string
  readonly samples: string
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
    await database.alone(() => prepare(database, places))
    await stories.follow((member) => members.told(member))
  } catch (error) {
    await database.close()
    throw error
  }
  return storeOf(stories, members, database, places.works)
}

/** Brings tables up to date, takes away what an import that was cut off left, and puts the samples into an empty database. */
async function prepare(database: Database, { migrations, samples }: StorePlaces): Promise<void> {
  await migrate(database, migrations)
  const filled = new Stories(database)
  await filled.sweep()
  if (await filled.isEmpty()) await loadSamples(filled, samples)
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
  const database = await openFolder(places.data, (opened) => prepare(opened, places), 'tables')
  if ((await freeBytes(places.data)) > RESERVE_BYTES)
    await backUpDaily(database, places.data, now).catch((error: Error) =>
      console.error(`The day's backup could not be made: ${error.message}`),
    )
  return storeOf(new Stories(database), new Members(database), database, true)
}

async function loadSamples(stories: Stories, folder: string): Promise<void> {
  const names = (await readdir(folder)).filter((name) => name.endsWith('.story.json')).sort()
  for (const name of names.reverse()) {
    const story = readStory(await readFile(join(folder, name), 'utf8'))
    if (!story.ok) throw new Error(`the sample ${name} is malformed: ${formatMalformed(story.error)}`)
    const id = await stories.create(story.value, name.replace('.story.json', ''))
    const since = performance.now()
    const survey = new Survey(linkStory(story.value), { routes: 'none' })
    while (!survey.advance());
    const kept = keptSurvey(survey.brief(), performance.now() - since, process.env.SURVEYOR ?? '')
    await stories.keepFacts(id, 0, storyFacts(story.value, survey.result()), kept)
  }
}
