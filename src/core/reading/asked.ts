import { fail, ok, type Result } from '../base/result'
import type { LinkedStory } from '../story/linked'
import type { RouteItem } from '../story/types'
import type { ReadingCopy } from './copy'
import { manuscriptCopy } from './manuscript'
import { screenplayCopy } from './screenplay'

/** Of what a copy is wanted: a scene, a kept route, the shortest way to an ending; of the whole story where nothing is named. */
export interface CopyAsked {
  readonly scene?: string | undefined
  readonly route?: string | undefined
  readonly ending?: string | undefined
}

/** The copy that is asked for, or why there is none. `wayTo`: the shortest route to an ending, where one is known. */
export async function copyAsked(
  story: LinkedStory,
  { scene, route, ending }: CopyAsked,
  made: Date,
  wayTo: (ending: string) => Promise<readonly RouteItem[] | undefined>,
): Promise<Result<ReadingCopy>> {
  if (scene !== undefined && !story.scenes.some(({ id }) => id === scene)) return fail(`there is no scene "${scene}"`)
  if (route !== undefined) {
    const kept = story.routes.find(({ id }) => id === route)
    return kept === undefined
      ? fail(`there is no kept route "${route}"`)
      : screenplayCopy(story, kept.decisions, kept.name, made)
  }
  if (ending === undefined) return ok(manuscriptCopy(story, made, scene))
  const at = story.endingOf.get(ending)
  const way = at === undefined ? undefined : await wayTo(ending)
  return way === undefined
    ? fail(`no route to an ending "${ending}" is known`)
    : screenplayCopy(story, way, `the shortest way to ${story.endings[at!]!.name}`, made)
}
