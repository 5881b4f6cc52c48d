'use client'

import { beatOf } from '../../../core/base/address'
import { useParams, useRouter } from 'next/navigation'
import { useSession } from './use-session'

/** Opens the Desk at a beat, or at the beat that something stands in. */
export function useGoTo(): (address: string) => void {
  const session = useSession()
  const router = useRouter()
  const { id } = useParams<{ id: string }>()
  return (address) => {
    const beat = beatOf(address) ?? address
    session.goTo(beat)
    router.push(`/story/${id}/desk#${beat}`)
  }
}
