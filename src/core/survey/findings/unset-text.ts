import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'
import { wayOf } from '../seen'

/** A text entry is shown while it still holds "". */
export function unsetTexts({ seen }: SurveyContext): Found[] {
  return seen.marks
    .seenOf('unset')
    .map(({ key, witness }) =>
      finding(
        'unset-text',
        key,
        `"${key[0]}" is shown here while nothing has been put into it yet`,
        wayOf(seen, witness),
      ),
    )
}
