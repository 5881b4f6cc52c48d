'use client'

import { useParams, useRouter } from 'next/navigation'
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
