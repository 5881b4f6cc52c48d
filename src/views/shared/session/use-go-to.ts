'use client'

import { beatOf } from '../../../core/base/address'
import { useParams, useRouter } from 'next/navigation'
import { useCallback } from 'react'
import { focusRow } from './focus-row'
import { useSession } from './use-session'

/** Opens the Desk at a beat, or at the row that an address names; `part`: at its gate or an effect. */
export function useGoTo(): (address: string, part?: string) => void {
  const session = useSession()
  const router = useRouter()
  const { id } = useParams<{ id: string }>()
  return useCallback(
    (address, part) => {
      const beat = beatOf(address) ?? address
      session.goTo(beat)
      router.push(`/story/${id}/desk#${beat}`)
      focusRow(address, part)
    },
    [session, router, id],
  )
}
