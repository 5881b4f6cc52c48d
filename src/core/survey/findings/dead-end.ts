import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

/** A resting state in which the player can do nothing and the story has not ended. */
export function deadEnds({ search, routes }: SurveyContext): Found[] {
  return search.marks
    .seenOf('dead-end')
    .map(({ key, witness }) => finding('dead-end', key, 'the player can get stuck here: nothing is open and the story has not ended', routes.wayOf(witness)))
}
