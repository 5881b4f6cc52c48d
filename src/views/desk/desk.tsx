'use client'

import { useEffect, type ReactNode } from 'react'
import { Columns } from '../../ui/columns'
import { Beside } from '../shared/beside'
import { FailureBoundary } from '../shared/failure-boundary'
import { useSessionState } from '../shared/session/use-session'
import { BearingPanel } from './bearing/bearing-panel'
import { Manuscript } from './manuscript/manuscript'
import { Outline } from './outline/outline'

/** One stays at a beat for so long before the address names it, in milliseconds. */
const STAYED_MS = 400

/** The address names the beat that one is at: a reload comes back to it, and it can be handed on. */
function useAddressedBeat(): void {
  const beat = useSessionState((state) => state.beat)
  useEffect(() => {
    const timer = setTimeout(() => {
      if (beat === undefined || window.location.hash === `#${beat}`) return
      // past the router, which would take it for a page to go to
      History.prototype.replaceState.call(window.history, window.history.state, '', `#${beat}`)
    }, STAYED_MS)
    return () => clearTimeout(timer)
  }, [beat])
}

/** Where one writes: the outline, the manuscript of a scene, the bearing of the beat one is in; with room, what is played beside it. */
export function Desk({ beside: page }: { readonly beside: ReactNode }) {
  useAddressedBeat()
  return (
    <Columns
      name="desk"
      start={{
        name: 'the outline',
        width: 13.5,
        openFrom: 50,
        content: (
          <FailureBoundary what="The outline">
            <Outline />
          </FailureBoundary>
        ),
      }}
      end={{
        name: 'the bearing',
        width: 16,
        openFrom: 72,
        content: (
          <FailureBoundary what="The bearing">
            <BearingPanel />
          </FailureBoundary>
        ),
      }}
    >
      <Beside name="desk" offer="Rehearse beside it" close="Close the rehearsal" what="The rehearsal" page={page}>
        <FailureBoundary what="The manuscript">
          <Manuscript />
        </FailureBoundary>
      </Beside>
    </Columns>
  )
}
