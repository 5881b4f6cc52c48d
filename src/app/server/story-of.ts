import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { setImmediate } from 'node:timers/promises'
import { writeBundle } from '../../core/formats/bundle/write'
import type { Bundle } from '../../core/formats/bundle/format'
import { readPageSettings } from '../../core/formats/page/read-settings'
import { writePage, type PageParts } from '../../core/formats/page/write'
import type { Slices } from '../../core/base/slices'
import type { LinkedStory } from '../../core/story/linked'
import type { SurveyResult } from '../../core/survey/result'
import { surveyInSlices } from '../../core/survey/survey'
import type { SurveyOptions } from '../../core/survey/searches'
import type { KeptStory } from '../../store/kept-story'

/** The longest that a survey on the server may take, in seconds. */
export const SURVEY_SECONDS = 60
/** For so long nobody else is heard, in milliseconds. */
const SLICE_MS = 20

/** Surveys a story between other requests, until it is done or the time is over. */
export function surveyed(story: LinkedStory, seconds: number, options: SurveyOptions): Promise<SurveyResult> {
  return betweenRequests(surveyInSlices(story, options, timeIsOver(seconds)))
}

/** Says whether so many seconds from now are over. */
export function timeIsOver(seconds: number): () => boolean {
  const until = performance.now() + seconds * 1000
  return () => performance.now() >= until
}

/** Does long work in slices, between which others are heard. */
export async function betweenRequests<T>(work: Slices<T>): Promise<T> {
  for (;;) {
    const pause = performance.now() + SLICE_MS
    do {
      const step = work.next()
      if (step.done === true) return step.value
    } while (performance.now() < pause)
    await setImmediate()
  }
}

/** The story for engines; on asking without what no route comes to, as far as that is decided in the time. */
export async function bundleOf({ linked }: KeptStory, without: boolean, seconds: number): Promise<Bundle> {
  if (!without) return writeBundle(linked)
  const { unreached } = await surveyed(linked, seconds, { routes: 'none' })
  return writeBundle(linked, { beats: new Set(unreached.beats), choices: new Set(unreached.choices) })
}

export async function pageOf(kept: KeptStory, without: boolean, seconds: number): Promise<string> {
  const file = join(/* turbopackIgnore: true */ process.cwd(), 'dist/page/parts.json')
  const parts = JSON.parse(await readFile(file, 'utf8')) as PageParts
  const settings = readPageSettings(kept.linked.doc)
  const bundle = await bundleOf(kept, without, seconds)
  return writePage({ bundle, settings, story: kept.id, version: String(kept.revision) }, parts)
}
