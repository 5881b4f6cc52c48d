'use client'

import { useEffect, useState } from 'react'
import type { Result } from '../../../core/base/result'
import type { SurveyReport } from '../../../session/survey-report'
import type { Answer, Ask, QuestionName } from '../../../session/survey-handle'
import { askUntilLeft } from './ask-until-left'
import { useSession, useSessionState } from './use-session'

/** What is known of a question. `isFresh`: it was answered about the story as it is now. */
export type Answered<T> =
  | { readonly status: 'asking' }
  | { readonly status: 'failed'; readonly message: string; readonly askAgain: () => void }
  | { readonly status: 'ready'; readonly answer: T; readonly isFresh: boolean }

/**
 * What the survey's worker answers to a question, asked anew with every report; the last answer stays while the next is
 * worked out. `key` says all that is asked for; undefined: nothing is asked.
 */
export function useAnswer<N extends QuestionName>(
  name: N,
  key: string | undefined,
  ask: () => Ask<N> | undefined,
): Answered<Answer<N>> {
  const session = useSession()
  const report = useSessionState((state) => state.survey.report)
  const [known, setKnown] = useState<{
    readonly of: SurveyReport
    readonly key: string
    readonly answer: Result<Answer<N>>
  }>()
  const [round, setRound] = useState(0)
  useEffect(() => {
    const asked = report === undefined || key === undefined ? undefined : ask()
    if (report === undefined || key === undefined || asked === undefined) return
    return askUntilLeft(session, name, asked, (answer) => setKnown({ of: report, key, answer }))
    // the key says all that is asked for
    // oxlint-disable-next-line react/exhaustive-deps
  }, [session, report, name, key, round])
  if (known === undefined || known.key !== key) return { status: 'asking' }
  const { answer } = known
  return answer.ok
    ? { status: 'ready', answer: answer.value, isFresh: known.of === report }
    : {
        status: 'failed',
        message: answer.error,
        askAgain: () => {
          setKnown(undefined)
          setRound(round + 1)
        },
      }
}

/** The answer, once there is one. */
export function answerOf<T>(answered: Answered<T>): T | undefined {
  return answered.status === 'ready' ? answered.answer : undefined
}
