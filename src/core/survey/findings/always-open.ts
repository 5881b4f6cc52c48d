import type { SurveyContext } from '../context'
import { finding, type Found } from '../result'

const NEVER_FALSE = 2

/** A written condition that was asked and never false. */
export function alwaysOpen({ search, complete }: SurveyContext): Found[] {
  if (!complete) return []
  const { addresses, seen } = search.conditions
  return addresses.flatMap((address, number) =>
    seen[number] === NEVER_FALSE ? [finding('always-open', [address, 'when'], 'this condition is never false when it is asked')] : [],
  )
}
