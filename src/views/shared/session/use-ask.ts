'use client'

import { useCallback, useEffect, useRef } from 'react'
import type { Result } from '../../../core/base/result'
import type { Answer, Ask, QuestionName } from '../../../session/survey-handle'
import { useSession } from './use-session'

/** Asks the survey's worker for as long as what asks is on the page; undefined: it has gone meanwhile, and the work was ended. */
export function useAsk() {
  const session = useSession()
  const leaving = useRef<AbortController>(null)
  useEffect(() => {
    const one = (leaving.current = new AbortController())
    return () => one.abort()
  }, [])
  return useCallback(
    async <N extends QuestionName>(name: N, ask: Ask<N>): Promise<Result<Answer<N>> | undefined> => {
      const signal = leaving.current?.signal
      const answer = await session.survey.ask(name, ask, signal)
      return signal?.aborted ? undefined : answer
    },
    [session],
  )
}
