'use client'

import { Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useState } from 'react'
import type { Since } from '../../core/contract/comments'
import { Plain, Quiet } from '../../ui/buttons'
import { sayMoment } from '../shared/when'

/** What others did since one was last here, until it is put away. */
export function SinceStrip({ since, id }: { since: Since; id: string }) {
  const [isAway, setAway] = useState(since.steps + since.comments === 0)
  if (isAway) return null
  const parts = [
    since.steps === 0
      ? undefined
      : `${since.steps === 1 ? '1 step' : `${since.steps} steps`} by ${since.by.join(', ')}`,
    since.comments === 0
      ? undefined
      : `${since.comments === 1 ? '1 comment' : `${since.comments} comments`}${since.forMe === 0 ? '' : `, ${since.forMe} for you`}`,
  ].filter((part) => part !== undefined)
  return (
    <Flex
      role="status"
      data-since=""
      position="absolute"
      bottom="3"
      right="4"
      bg="sheet"
      border="1px solid"
      borderColor="edge"
      px="4"
      py="2"
      gap="3"
      align="center"
      zIndex="docked"
    >
      <Text>
        Since you were here, {sayMoment(since.at)}: {parts.join('; ')}.
      </Text>
      {since.steps > 0 && (
        <Plain asChild>
          <Link href={`/story/${id}/history?from=${since.revision}`} onClick={() => setAway(true)}>
            What changed
          </Link>
        </Plain>
      )}
      {since.comments > 0 && (
        <Plain asChild>
          <Link href={`/story/${id}/comments`} onClick={() => setAway(true)}>
            What was said
          </Link>
        </Plain>
      )}
      <Quiet onClick={() => setAway(true)}>Dismiss</Quiet>
    </Flex>
  )
}
