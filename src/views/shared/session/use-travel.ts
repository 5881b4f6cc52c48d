'use client'

import { useCallback } from 'react'
import { beatOf } from '../../../core/base/address'
import { changedRow } from '../../../core/story/changed-row'
import { focusRow } from './focus-row'
import { useSession } from './use-session'

/** Takes this window's last edit, or with `anyones` the last of all, back, or makes it again; on the Desk the cursor goes to what it changed. */
export function useTravel(): (kind: 'undo' | 'redo', anyones?: boolean) => void {
  const session = useSession()
  return useCallback(
    (kind, anyones) => {
      void (async () => {
        const before = session.getState().story
        await session.travel(kind, anyones)
        const row = changedRow(before, session.getState().story)
        if (row === undefined || !window.location.pathname.endsWith('/desk')) return
        session.goTo(beatOf(row.replace(/:\w+$/, '')))
        focusRow(row)
      })()
    },
    [session],
  )
}
