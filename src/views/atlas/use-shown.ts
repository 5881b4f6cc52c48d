'use client'

import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { useFindings } from '../shared/session/findings'
import { answerOf, useAnswer } from '../shared/session/use-answer'
import { usePlaytestFigures } from '../players/use-playtests'
import { usePlayersForShares } from '../shared/session/use-players'
import { useSessionState } from '../shared/session/use-session'
import type { ChartWords } from './chart-words'
import { overlayOf, type OverlayId } from './overlays'
import { profileOf } from './profile'
import { roadsBetween } from './roads-between'
import type { Overlay, Profile } from './sheet'

/** The chart is drawn first, and players go through the story after that, in milliseconds. */
const PLAYERS_MS = 1_000
/** By then the first picture stands, in milliseconds. */
const DRAWN_MS = 150
const NOTHING: ReadonlySet<number> = new Set()

interface Shown {
  readonly overlay: Overlay | undefined
  readonly profile: Profile | undefined
  readonly route: ReadonlySet<number>
  /** The beats of a route that is shown as such; a shortest route to the picked beat has none. */
  readonly routeBeats: ReadonlySet<number>
  /** The beats on a shortest route to the picked one. */
  readonly path: readonly string[] | undefined
}

/** What is laid over the chart: asked of the survey, of the players, of the story itself. `isEarly`: there is no survey yet. */
export function useShown(
  words: ChartWords,
  picked: number | undefined,
  isEarly: boolean,
  id: OverlayId,
  of: string | undefined,
): Shown {
  const { chart, story } = words
  const report = useSessionState((state) => state.survey.report)
  const rehearsal = useSessionState((state) => state.rehearsal)
  const players = useSessionState(({ simulation, story: now }) =>
    simulation.story === now ? simulation.result : undefined,
  )
  const playtests = usePlaytestFigures(id === 'playtests')
  const findings = useFindings()
  usePlayersForShares(report, id === 'players' ? 0 : PLAYERS_MS)
  const to = isEarly || picked === undefined || chart.inMargin[picked] === 1 ? undefined : chart.beats[picked]
  const path = answerOf(useAnswer('path', to, () => ({ to: to! })))
  const used = id === 'entry' ? of : undefined
  const uses = answerOf(
    useAnswer('uses', used, () =>
      used!.startsWith('quest.') ? { of: 'quest', id: used!.slice(6) } : { of: 'entry', id: used! },
    ),
  )
  const outlooks = useAnswer('outlook', isEarly ? undefined : 'outlook', () => ({}))
  const outlook = answerOf(outlooks)
  const asksNoReturn = id === 'ending' || id === 'no-return'
  const points = useAnswer('no-return', asksNoReturn ? 'asked' : undefined, () => ({}))
  const noReturn = answerOf(points)
  const trouble =
    outlooks.status === 'failed' ? outlooks.message : points.status === 'failed' ? points.message : undefined
  const decisions =
    id === 'rehearsal'
      ? rehearsal.decisions
      : id === 'route'
        ? story.routes?.find((route) => route.id === of)?.decisions
        : undefined
  const from = id === 'rehearsal' ? rehearsal.from : undefined
  const followed = answerOf(
    useAnswer('path', decisions && JSON.stringify([decisions, from]), () => ({ decisions: decisions!, from })),
  )
  const overlay = useMemo(
    () => overlayOf(id, of, words, { uses, outlook, noReturn, trouble, players, playtests, findings }),
    [id, of, words, uses, outlook, noReturn, trouble, players, playtests, findings],
  )
  const isFollowing = decisions !== undefined
  const route = useMemo(
    () => roadsBetween(chart, (isFollowing ? followed : path) ?? []),
    [chart, path, followed, isFollowing],
  )
  // all words are counted once the chart is drawn
  const [isDrawn, setDrawn] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setDrawn(true), DRAWN_MS)
    return () => clearTimeout(timer)
  }, [])
  const counted = useDeferredValue(isDrawn ? words : undefined)
  const profile = useMemo(() => counted && profileOf(counted, outlook, players), [counted, outlook, players])
  return { overlay, profile, route: route.roads, routeBeats: isFollowing ? route.beats : NOTHING, path }
}
