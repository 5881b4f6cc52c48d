import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'
import { wayOf } from '../seen'

/** A run of redirects and onward roads that comes back to the same state and never rests. */
export function endlessRuns({ seen }: SurveyContext): Found[] {
  return seen.marks
    .seenOf('endless')
    .map(({ key, witness }) =>
      finding('endless-run', key, 'the story goes round here by itself and never stops', wayOf(seen, witness)),
    )
}
