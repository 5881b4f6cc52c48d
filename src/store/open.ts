import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { linkStory } from '../core/story/link'
import { formatMalformed, readStory } from '../core/story/read'
import { storyFacts } from '../core/survey/questions/story-facts'
import { surveyStory } from '../core/survey/survey'
import { backUpDaily } from './backup'
import type { Database } from './database'
import { freeBytes, openFolder } from './folder'
import { migrate } from './migrate'
import { RESERVE_BYTES } from './reserve'
import { Stories } from './stories'

export interface StorePlaces {
  /** Where the data lie. */
  readonly data: string
  readonly migrations: string
  readonly samples: string
}

export interface Store {
  readonly stories: Stories
  readonly database: Database
  close(): Promise<void>
}

/**
 * Opens the store of a data folder that this process owns: brings its tables up to date, puts the samples into an empty
 * one, takes away what an import that was cut off left, and makes the day's backup.
 */
export async function openStore(places: StorePlaces, now: Date): Promise<Store> {
  const database = await openFolder(places.data, async (opened) => {
    await migrate(opened, places.migrations)
    const filled = new Stories(opened)
    await filled.sweep()
    if (await filled.isEmpty()) await loadSamples(filled, places.samples)
  })
  const stories = new Stories(database)
  if ((await freeBytes(places.data)) > RESERVE_BYTES)
    await backUpDaily(database, places.data, now).catch((error: Error) =>
      console.error(`The day's backup could not be made: ${error.message}`),
    )
  return {
    stories,
    database,
    close: async () => {
      await stories.idle()
      await database.close()
    },
  }
}

async function loadSamples(stories: Stories, folder: string): Promise<void> {
  const names = (await readdir(folder)).filter((name) => name.endsWith('.story.json')).sort()
  for (const name of names.reverse()) {
    const story = readStory(await readFile(join(folder, name), 'utf8'))
    if (!story.ok) throw new Error(`the sample ${name} is malformed: ${formatMalformed(story.error)}`)
    const id = await stories.create(story.value, name.replace('.story.json', ''))
    const facts = storyFacts(story.value, surveyStory(linkStory(story.value), { routes: 'none' }))
    await stories.keepFacts(id, 0, facts)
  }
}
