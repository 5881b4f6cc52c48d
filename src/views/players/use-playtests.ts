'use client'

import { useEffect, useMemo } from 'react'
import { figuresOf, replayRecord, type PlaytestFigures, type Replayed } from '../../core/simulate/playtests'
import type { KeptPlaytest } from '../../core/contract/answers'
import { useLinkedWhen, useSession, useSessionState } from '../shared/session/use-session'

export interface PlayedTest {
  readonly kept: KeptPlaytest
  readonly replayed: Replayed
}

interface Playtests {
  readonly tests: readonly PlayedTest[]
  readonly figures: PlaytestFigures
}

/** Only what they came to, where that is wanted. */
export function usePlaytestFigures(isWanted: boolean): PlaytestFigures | undefined {
  return usePlaytests(isWanted)?.figures
}

/** The playtests that are kept, replayed in the story as it is now; undefined until they are read. */
export function usePlaytests(isWanted = true): Playtests | undefined {
  const session = useSession()
  const kept = useSessionState((state) => state.playtests)
  const linked = useLinkedWhen(isWanted)
  useEffect(() => {
    if (isWanted && session.getState().playtests === undefined) void session.playtests.read()
  }, [session, isWanted])
  return useMemo(() => {
    // linked only where somebody looks: that takes a while in a large story
    if (kept === undefined || linked === undefined) return undefined
    const tests = kept.map((one) => ({
      kept: one,
      replayed: replayRecord(linked, { steps: one.record.steps, lastSeconds: one.record.stopped.seconds }),
    }))
    return { tests, figures: figuresOf(tests.map(({ replayed }) => replayed)) }
  }, [kept, linked])
}
