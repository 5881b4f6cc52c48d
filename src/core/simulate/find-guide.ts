import { fail, ok, type Result } from '../base/result'
import type { Survey } from '../survey/survey'
import type { Guide } from './guide'
import { SetGuide } from './set-guide'
import { StateGuide } from './state-guide'

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
