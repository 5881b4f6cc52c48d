import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

/** A written condition that was asked and never false. */
export function alwaysOpen({ seen, complete }: SurveyContext): Found[] {
  if (!complete) return []
  return seen.marks
    .neverFalse()
    .map((address) => finding('always-open', [address, 'when'], 'this condition is never false when it is asked'))
}
