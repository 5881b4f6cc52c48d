'use client'

import { useEffect, useState } from 'react'
import type { Chart } from '../../core/atlas/chart'
import type { Result } from '../../core/base/result'
import type { SurveyReport } from '../../session/survey-report'
import { useAnswer } from '../shared/session/use-answer'
import { useSession, useSessionState } from '../shared/session/use-session'

/** The last chart of each survey: whoever comes back to the Atlas has it at once. */
const drawn = new WeakMap<SurveyReport, Chart>()

/** The chart of the open story: by its roads until the first survey is done, then as each survey has it. */
export function useChart(): {
  readonly chart: Chart | undefined
  /** By roads alone. */
  readonly isEarly: boolean
  readonly trouble: string | undefined
} {
  const session = useSession()
  const report = useSessionState((state) => state.survey.report)
  const isSurveyed = report !== undefined
  const [early, setEarly] = useState<Result<Chart>>()
  const surveyed = useAnswer('chart', 'chart', () => ({}))
  useEffect(() => {
    if (isSurveyed) return
    let left = false
    void session.survey.ask('chart-by-roads', {}).then((answer) => !left && setEarly(answer))
    return () => {
      left = true
    }
  }, [session, isSurveyed])
  useEffect(() => {
    if (report !== undefined && surveyed.status === 'ready' && surveyed.isFresh) drawn.set(report, surveyed.answer)
  }, [report, surveyed])
  if (surveyed.status === 'ready') return { chart: surveyed.answer, isEarly: false, trouble: undefined }
  const known = report && drawn.get(report)
  if (known !== undefined) return { chart: known, isEarly: false, trouble: undefined }
  const trouble = surveyed.status === 'failed' ? surveyed.message : early?.ok === false ? early.error : undefined
  return { chart: early?.ok ? early.value : undefined, isEarly: true, trouble }
}
