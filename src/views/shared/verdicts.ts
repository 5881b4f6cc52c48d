'use client'

import type { Reachable, SurveyResult } from '../../core/survey/result'
import type { Verdict } from '../../ui/marks'
import { useSessionState } from './use-session'

export function verdictOf(result: SurveyResult | undefined, what: Reachable, address: string): Verdict {
  if (result === undefined) return 'waiting'
  if (result.reached[what][address] !== undefined) return 'reached'
  if (result.unreached[what].includes(address)) return 'unreached'
  return result.undecided[what].includes(address) ? 'undecided' : 'waiting'
}

/** The verdict on a beat, or on something else that can be reached. */
export function useVerdict(address: string, what: Reachable = 'beats'): Verdict {
  return useSessionState((state) => verdictOf(state.survey.report?.result, what, address))
}
