'use client'

import { useEffect } from 'react'
import type { SurveyReport } from '../../../session/survey-report'
import { useSession } from './use-session'

/** So many players are sent through the story to tell the share of each ending; fewer through a large one. */
const SHARE_PLAYS = 1_000
const SHARE_PLAYS_LARGE = 100
const LARGE_BEATS = 2_000

/** Once a story is surveyed, players who choose at random go through it, so that every ending has its share; `wait`: after so many milliseconds. */
export function usePlayersForShares(result: SurveyReport | undefined, wait = 0): void {
  const session = useSession()
  useEffect(() => {
    if (result === undefined) return
    const begin = () => {
      const { story, simulation } = session.getState()
      if (simulation.story === story || simulation.running !== undefined) return
      const beats = story.scenes.reduce((sum, scene) => sum + scene.beats.length, 0)
      const plays = beats > LARGE_BEATS ? SHARE_PLAYS_LARGE : SHARE_PLAYS
      session.players.play(story, plays, { player: { kind: 'random' }, seed: 1 })
    }
    const timer = setTimeout(begin, wait)
    return () => clearTimeout(timer)
  }, [session, result, wait])
}
