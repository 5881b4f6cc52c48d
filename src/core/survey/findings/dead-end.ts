import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'
import { wayOf } from '../seen'

/** A resting state in which the player can do nothing and the story has not ended. */
export function deadEnds({ seen }: SurveyContext): Found[] {
  return seen.marks
    .seenOf('dead-end')
    .map(({ key, witness }) =>
      finding(
        'dead-end',
        key,
        'the player can get stuck here: nothing is open and the story has not ended',
        wayOf(seen, witness),
      ),
    )
}
