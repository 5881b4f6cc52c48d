'use client'

import { Box } from '@chakra-ui/react'
import { useState, useSyncExternalStore, type ReactNode } from 'react'
import { Quiet } from '../../ui/buttons'
import { FailureBoundary } from './failure-boundary'

/** From this width on there is room for a second page beside the first. */
const WIDE = '(min-width: 1600px)'

interface Props {
  /** Whether it is open is kept under this name. */
  readonly name: string
  readonly offer: string
  readonly close: string
  /** What the second page is called where it fails. */
  readonly what: string
  readonly page: ReactNode
  /** Where the button stands. */
  readonly at?: 'top' | 'bottom'
  readonly children: ReactNode
}

/** A page, and in a wide window, on asking, another one beside it. */
export function Beside({ name, offer, close, what, page, at = 'top', children }: Props) {
  const kept = `paper-compass.beside.${name}`
  const isWide = useSyncExternalStore(
    watchWidth,
    () => window.matchMedia(WIDE).matches,
    () => false,
  )
  const [isOpen, setOpen] = useState(() => localStorage.getItem(kept) === 'open')
  const turn = () => {
    localStorage.setItem(kept, isOpen ? '' : 'open')
    setOpen(!isOpen)
  }
  const both = isWide && isOpen
  return (
    <Box
      display="grid"
      gridTemplateColumns={both ? 'minmax(0, 1.15fr) minmax(0, 1fr)' : 'minmax(0, 1fr)'}
      gridTemplateRows="minmax(0, 1fr)"
      minW="0"
      h="100%"
    >
      <Box display="grid" gridTemplateRows="minmax(0, 1fr)" minW="0" position="relative">
        {children}
        {isWide && (
          <Quiet position="absolute" {...{ [at]: '2' }} right="4" fontSize="sm" aria-pressed={both} onClick={turn}>
            {both ? close : offer}
          </Quiet>
        )}
      </Box>
      {both && (
        <Box borderLeft="1px solid" borderColor="hairline" minW="0" data-beside="">
          <FailureBoundary what={what}>{page}</FailureBoundary>
        </Box>
      )}
    </Box>
  )
}

function watchWidth(changed: () => void): () => void {
  const query = window.matchMedia(WIDE)
  query.addEventListener('change', changed)
  return () => query.removeEventListener('change', changed)
}
