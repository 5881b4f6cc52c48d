'use client'

import { useParams, useRouter } from 'next/navigation'
import type { Finding } from '../../../core/survey/findings/finding'
import type { Reachable } from '../../../core/survey/result'
import type { RouteItem } from '../../../core/story/types'
import type { Result } from '../../../core/base/result'
import type { StorySession } from '../../../session/story-session'
import { useSession } from './use-session'

/** Plays a route in the rehearsal. */
export function useWalk(): (route: readonly RouteItem[]) => void {
  const session = useSession()
  const router = useRouter()
  const { id } = useParams<{ id: string }>()
  return (route) => {
    session.rehearse(route)
    router.push(`/story/${id}/rehearse`)
  }
}

/** Plays the route that shows a finding. */
export function useWalkFinding(): (finding: Finding) => void {
  const session = useSession()
  const walk = useWalk()
  return ({ kind, key }) =>
    void session.survey.ask('route-of', { kind, key }).then((route) => walkAnswer(session, walk, route))
}

/** Plays the shortest route to something that is reached. */
export function useWalkTo(): (what: Reachable, address: string) => void {
  const session = useSession()
  const walk = useWalk()
  return (what, address) =>
    void session.survey.ask('route-to', { what, address }).then((route) => walkAnswer(session, walk, route))
}

function walkAnswer(
  session: StorySession,
  walk: (route: readonly RouteItem[]) => void,
  route: Result<readonly RouteItem[] | undefined>,
): void {
  if (!route.ok) session.tell(`The route could not be worked out: ${route.error}.`)
  else if (route.value !== undefined) walk(route.value)
}
