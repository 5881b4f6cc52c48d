import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

/** A run of redirects and onward roads that comes back to the same state and never rests. */
export function endlessRuns({ search, routes }: SurveyContext): Found[] {
  return search.marks
    .seenOf('endless')
    .map(({ key, witness }) => finding('endless-run', key, 'the story goes round here by itself and never stops', routes.wayOf(witness)))
}
