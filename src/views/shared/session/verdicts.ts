'use client'

import type { Finding } from '../../../core/survey/findings/finding'
import type { Reachable } from '../../../core/survey/result'
import type { SurveyReport } from '../../../session/survey-report'
import type { Verdict } from '../../../ui/marks'
import { useSessionState } from './use-session'

export function verdictOf(report: SurveyReport | undefined, what: Reachable, address: string): Verdict {
  return report === undefined ? 'waiting' : report.of(what, address)
}

/** The verdict on a beat, or on something else that can be reached. */
export function useVerdict(address: string, what: Reachable = 'beats'): Verdict {
  return useSessionState((state) => verdictOf(state.survey.report, what, address))
}

const NOTHING: readonly Finding[] = []

/** What was found at a row, by its address. */
export function useRowFindings(address: string): readonly Finding[] {
  return useSessionState((state) => state.survey.report?.at(address) ?? NOTHING)
}

/** The verdict on a turn of lines that come in turn. */
export function useTurnVerdict(address: string): Verdict {
  return useSessionState((state) => state.survey.report?.ofTurn(address) ?? 'waiting')
}
