'use client'

import { useEffect, useState } from 'react'
import type { SurveyReport } from '../../session/survey-report'
import { useSessionState } from './use-session'

/** What the survey's worker answers to a question, asked anew with every report; the last answer stays while the next is worked out. */
export function useAnswer<T>(
  question: string,
  ask: () => Promise<T>,
): { readonly answer: T | undefined; readonly isFresh: boolean } {
  const result = useSessionState((state) => state.survey.report)
  const [known, setKnown] = useState<{ readonly of: SurveyReport; readonly question: string; readonly answer: T }>()
  useEffect(() => {
    if (result === undefined) return
    let left = false
    void ask().then((answer) => !left && setKnown({ of: result, question, answer }))
    return () => {
      left = true
    }
    // the question says all that is asked for
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [result, question])
  const isSame = known?.question === question
  return { answer: isSame ? known.answer : undefined, isFresh: isSame && known.of === result }
}
