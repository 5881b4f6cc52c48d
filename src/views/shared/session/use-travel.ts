'use client'

import { useCallback } from 'react'
import { beatOf } from '../../../core/base/address'
import { changedRow } from '../../../core/story/changed-row'
import { focusRow } from './focus-row'
import { useSession } from './use-session'

/** Takes the last edit back, or makes it again; on the Desk the cursor goes to what it changed. */
export function useTravel(): (kind: 'undo' | 'redo') => void {
  const session = useSession()
  return useCallback(
    (kind) => {
      void (async () => {
        const before = session.getState().story
        await session[kind]()
        const row = changedRow(before, session.getState().story)
        if (row === undefined || !window.location.pathname.endsWith('/desk')) return
        session.goTo(beatOf(row.replace(/:\w+$/, '')))
        focusRow(row)
      })()
    },
    [session],
  )
}
