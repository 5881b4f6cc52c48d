'use client'

import { Box } from '@chakra-ui/react'
import { FailureBoundary } from '../shared/failure-boundary'
import { BearingPanel } from './bearing/bearing-panel'
import { Manuscript } from './manuscript/manuscript'
import { Outline } from './outline/outline'

/** Where one writes: the outline, the manuscript of a scene, the bearing of the beat one is in. */
export function Desk() {
  return (
    <Box as="main" display="grid" gridTemplateColumns="14.5rem minmax(0, 1fr) 17rem" h="100%">
      <FailureBoundary what="The outline">
        <Outline />
      </FailureBoundary>
      <FailureBoundary what="The manuscript">
        <Manuscript />
      </FailureBoundary>
      <FailureBoundary what="The bearing">
        <BearingPanel />
      </FailureBoundary>
    </Box>
  )
}
