'use client'

import { Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { FailureBoundary } from '../shared/failure-boundary'
import { ChartPage } from './chart-page'
import { useChart } from './use-chart'

/** The whole story on one chart that draws itself; with room, what is played beside it. */
export function Atlas({ beside }: { readonly beside: ReactNode }) {
  const { chart, isEarly, trouble } = useChart()
  if (chart === undefined)
    return (
      <Text as="main" p="6" color={trouble === undefined ? 'faded' : 'needle'} role="status">
        {trouble === undefined ? 'Drawing the story …' : `The chart could not be drawn: ${trouble}.`}
      </Text>
    )
  return (
    <FailureBoundary what="The Atlas">
      <ChartPage chart={chart} isEarly={isEarly} beside={beside} />
    </FailureBoundary>
  )
}
