import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { fail, ok, type Result } from '../core/base/result'
import { formatMalformed, readStory } from '../core/story/read'
import { lockFolder } from './lock'
import { migrate } from './migrate'
import { openPglite } from './pglite'
import { Stories } from './stories'

export interface Store {
  readonly stories: Stories
  close(): Promise<void>
}

export interface StorePlaces {
  /** Where the data lie. */
  readonly data: string
  readonly migrations: string
  readonly samples: string
}

/** Opens the store of a data folder, alone: brings its tables up to date and puts the samples into an empty one. */
export async function openStore(places: StorePlaces): Promise<Result<Store>> {
  const lock = await lockFolder(places.data)
  if (!lock.ok) return lock
  try {
    const database = await openPglite(join(places.data, 'db'))
    await migrate(database, places.migrations)
    const stories = new Stories(database)
    if (await stories.isEmpty()) await loadSamples(stories, places.samples)
    return ok({
      stories,
      close: async () => {
        await database.close()
        await lock.value()
      },
    })
  } catch (error) {
    await lock.value()
    return fail(`the data folder ${places.data} can not be opened: ${(error as Error).message}`)
  }
}

async function loadSamples(stories: Stories, folder: string): Promise<void> {
  const names = (await readdir(folder)).filter((name) => name.endsWith('.story.json')).sort()
  for (const name of names.reverse()) {
    const story = readStory(await readFile(join(folder, name), 'utf8'))
    if (!story.ok) throw new Error(`the sample ${name} is malformed: ${formatMalformed(story.error)}`)
    const created = await stories.create(story.value, name.replace('.story.json', ''))
    if (!created.ok) throw new Error(created.error.message)
  }
}
