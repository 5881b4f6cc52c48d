import type { Explored } from './exploration'
import { finding, type Found } from './finding'

/** A written condition that was asked and never false. */
export function alwaysOpen({ evidence, complete }: Explored): Found[] {
  if (!complete) return []
  return evidence.events
    .neverFalse()
    .map((address) => finding('always-open', [address, 'when'], 'this condition is never false when it is asked'))
}
