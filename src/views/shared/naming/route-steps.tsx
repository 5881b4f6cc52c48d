'use client'

import { parseAddress } from '../../../core/base/address'
import { Box } from '@chakra-ui/react'
import { choiceAt } from '../../../core/story/beat-at'
import type { Decision, Story } from '../../../core/story/types'
import { plainId } from '../../../session/names'
import { useNaming } from '../session/use-session'

/** What a decision is called on the page: the choice's text, or the word typed. */
export function sayDecision(story: Story, decision: Decision): string {
  if (!('choice' in decision)) return `type “${decision.word}”`
  return choiceAt(story, decision.choice)?.text || plainId(parseAddress(decision.choice)?.choice ?? decision.choice)
}

const SHOWN_MAX = 12

/** A route, one decision a line. */
export function RouteSteps({ route }: { route: readonly Decision[] }) {
  const { story } = useNaming()
  const shown = route.length > SHOWN_MAX ? route.slice(-SHOWN_MAX) : route
  return (
    <Box as="ol" fontFamily="story" pl="5" listStyleType="decimal" lineHeight={1.5}>
      {shown.length < route.length && (
        <Box as="li" listStyleType="none" color="faded">
          … {route.length - shown.length} before
        </Box>
      )}
      {shown.map((decision, at) => (
        <li key={at} value={route.length - shown.length + at + 1}>
          {sayDecision(story, decision)}
        </li>
      ))}
    </Box>
  )
}
