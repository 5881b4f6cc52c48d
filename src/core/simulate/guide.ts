import { fail, ok, type Result } from '../base/result'
import type { PlayState } from '../play/state'
import type { RouteItem } from '../story/types'
import type { Survey } from '../survey/survey'
import { SetGuide } from './set-guide'
import { StateGuide } from './state-guide'

/** An open decision, and how far the ending is after it. */
export interface Way {
  readonly decision: RouteItem
  /** The fewest decisions; Infinity where it is lost. */
  readonly distance: number
}

/** Leads a player to an ending, by a finished survey of the story. */
export interface Guide {
  /** A new playthrough, where it first rests. */
  begin(state: PlayState): void
  /** The game has given something else. */
  given(state: PlayState): void
  /** How far the ending is where the playthrough rests; Infinity where it is lost. */
  readonly distance: number
  /** The open decisions, in the order of the document; none where the survey did not go. */
  ways(state: PlayState): readonly Way[]
  /** The player decides for one of the ways last given. */
  take(way: Way): void
}

/** To an ending of the story. Fails where no route to it is known, or there is too much to tell how near what comes to it. */
export function guideTo(survey: Survey, ending: string): Result<Guide> {
  const wanted = survey.story.endingOf.get(ending)!
  const { inSets } = survey
  const guide = inSets === undefined ? StateGuide.to(survey, wanted) : SetGuide.to(inSets, wanted)
  if (guide === undefined) return fail(`no route is known that comes to the ending "${ending}"`)
  return guide === 'too much'
    ? fail(`there is too much to tell how near each decision comes to the ending "${ending}"`)
    : ok(guide)
}
