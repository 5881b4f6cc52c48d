import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { linkStory } from '../core/story/link'
import { formatMalformed, readStory } from '../core/story/read'
import { keptSurvey } from '../core/survey/kept-survey'
import { storyFacts } from '../core/survey/questions/story-facts'
import { Survey } from '../core/survey/survey'
import type { Database } from './database'
import { migrate } from './migrate'
import { Stories } from './stories'

/** Where what a new database is filled with lies. */
export interface FillPlaces {
  readonly migrations: string
  readonly samples: string
}

/** Brings tables up to date, takes away what an import that was cut off left, and puts the samples into an empty database. */
export async function fill(database: Database, { migrations, samples }: FillPlaces): Promise<void> {
  await migrate(database, migrations)
  const filled = new Stories(database)
  await filled.sweep()
  if (await filled.isEmpty()) await loadSamples(filled, samples)
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
