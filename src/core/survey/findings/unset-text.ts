import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

/** A text entry is shown while it still holds "". */
export function unsetTexts({ search, routes }: SurveyContext): Found[] {
  return search.marks
    .seenOf('unset')
    .map(({ key, witness }) => finding('unset-text', key, `"${key[0]}" is shown here while nothing has been put into it yet`, routes.wayOf(witness)))
}
