'use client'

import { useParams, useRouter } from 'next/navigation'
import type { Finding } from '../../core/survey/findings/finding'
import type { Reachable } from '../../core/survey/result'
import type { Decision } from '../../core/story/types'
import { useSession } from './use-session'

/** Plays a route in the rehearsal. */
export function useWalk(): (route: readonly Decision[]) => void {
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
  return (finding) => void session.survey.routeOf(finding).then((route) => route !== undefined && walk(route))
}

/** Plays the shortest route to something that is reached. */
export function useWalkTo(): (what: Reachable, address: string) => void {
  const session = useSession()
  const walk = useWalk()
  return (what, address) =>
    void session.survey.routeTo(what, address).then((route) => route !== undefined && walk(route))
}
