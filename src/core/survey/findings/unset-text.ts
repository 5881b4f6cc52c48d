import { routeTo, type Explored } from './exploration'
import { finding, type Found } from './finding'

/** A text entry is shown while it still holds "". */
export function unsetTexts({ evidence }: Explored): Found[] {
  return evidence.events
    .occurrencesOf('unset')
    .map(({ key, witness }) =>
      finding(
        'unset-text',
        key,
        `"${key[0]}" is shown here while nothing has been put into it yet`,
        routeTo(evidence, witness),
      ),
    )
}
