'use client'

import type { SurveyResult } from '../../core/survey/result'
import type { Verdict } from '../../ui/marks'
import { useSessionState } from './use-session'

export function verdictOf(result: SurveyResult | undefined, what: 'beats' | 'choices' | 'endings' | 'stages', address: string): Verdict {
  if (result === undefined) return 'waiting'
  if (result.reached[what][address] !== undefined) return 'reached'
  if (result.unreached[what].includes(address)) return 'unreached'
  return result.undecided[what].includes(address) ? 'undecided' : 'waiting'
}

export function useVerdict(beat: string): Verdict {
  return useSessionState((state) => verdictOf(state.survey.report?.result, 'beats', beat))
}

export function choiceVerdict(result: SurveyResult | undefined, choice: string): Verdict {
  return verdictOf(result, 'choices', choice)
}
