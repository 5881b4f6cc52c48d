'use client'

import { useEffect } from 'react'
import type { SurveyReport } from '../../../session/survey-report'
import { useSession } from './use-session'

/** So many players are sent through the story to tell the share of each ending; fewer through a large one. */
const SHARE_PLAYS = 1_000
const SHARE_PLAYS_LARGE = 100
const LARGE_BEATS = 2_000

/** Once a story is surveyed, players who choose at random go through it, so that every ending has its share. */
export function usePlayersForShares(result: SurveyReport | undefined): void {
  const session = useSession()
  useEffect(() => {
    if (result === undefined) return
    const { story, simulation } = session.getState()
    if (simulation.story !== story && simulation.running === undefined)
      session.players.play(
        story,
        story.scenes.reduce((sum, { beats }) => sum + beats.length, 0) > LARGE_BEATS ? SHARE_PLAYS_LARGE : SHARE_PLAYS,
        { player: { kind: 'random' }, seed: 1 },
      )
  }, [session, result])
}
