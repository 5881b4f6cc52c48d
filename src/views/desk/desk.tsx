'use client'

import { Box } from '@chakra-ui/react'
import { useEffect, useState, useSyncExternalStore, type ReactNode } from 'react'
import { Quiet } from '../../ui/buttons'
import { Columns } from '../../ui/columns'
import { FailureBoundary } from '../shared/failure-boundary'
import { useSessionState } from '../shared/session/use-session'
import { BearingPanel } from './bearing/bearing-panel'
import { Manuscript } from './manuscript/manuscript'
import { Outline } from './outline/outline'

/** From this width on there is room for a second page beside the manuscript. */
const WIDE = '(min-width: 1600px)'
const BESIDE = 'paper-compass.beside'

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
  const isWide = useSyncExternalStore(
    watchWidth,
    () => window.matchMedia(WIDE).matches,
    () => false,
  )
  const [beside, setBeside] = useState(() => localStorage.getItem(BESIDE) === 'rehearse')
  const turn = () => {
    localStorage.setItem(BESIDE, beside ? '' : 'rehearse')
    setBeside(!beside)
  }
  const both = isWide && beside
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
      <Box
        display="grid"
        gridTemplateColumns={both ? 'minmax(0, 1.15fr) minmax(0, 1fr)' : 'minmax(0, 1fr)'}
        gridTemplateRows="minmax(0, 1fr)"
        minW="0"
      >
        <Box display="grid" gridTemplateRows="minmax(0, 1fr)" minW="0" position="relative">
          <FailureBoundary what="The manuscript">
            <Manuscript />
          </FailureBoundary>
          {isWide && (
            <Quiet
              position="absolute"
              top="2"
              right="4"
              fontSize="sm"
              aria-pressed={both}
              title="Play the story beside its text"
              onClick={turn}
            >
              {both ? 'Close the rehearsal' : 'Rehearse beside it'}
            </Quiet>
          )}
        </Box>
        {both && (
          <Box borderLeft="1px solid" borderColor="hairline" minW="0" data-beside="">
            <FailureBoundary what="The rehearsal">{page}</FailureBoundary>
          </Box>
        )}
      </Box>
    </Columns>
  )
}

function watchWidth(changed: () => void): () => void {
  const query = window.matchMedia(WIDE)
  query.addEventListener('change', changed)
  return () => query.removeEventListener('change', changed)
}
