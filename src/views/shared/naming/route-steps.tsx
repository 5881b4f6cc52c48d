'use client'

import { plainId } from '../../../core/base/ids'
import { parseAddress } from '../../../core/base/address'
import { Box } from '@chakra-ui/react'
import { choiceAt } from '../../../core/story/beat-at'
import type { EntryValue, RouteItem, Story } from '../../../core/story/types'
import { sayValue, storyNames } from '../../../session/names'
import { useNaming } from '../session/use-session'

/** What a decision is called on the page: the choice's text, or the word typed. */
export function sayDecision(story: Story, decision: RouteItem): string {
  if ('word' in decision) return `type “${decision.word}”`
  if ('given' in decision) return sayGiven(story, decision.given)
  return choiceAt(story, decision.choice)?.text || plainId(parseAddress(decision.choice)?.choice ?? decision.choice)
}

/** What the game sets, as it is read. */
export function sayGiven(story: Story, given: Record<string, EntryValue>): string {
  const { entry } = storyNames(story)
  const parts = Object.entries(given).map(([id, value]) => `${entry(id)}: ${sayValue(value)}`)
  return parts.length === 0 ? 'the game sets nothing' : `the game sets ${parts.join(', ')}`
}

const SHOWN_MAX = 12

/** A route, one decision a line. */
export function RouteSteps({ route }: { route: readonly RouteItem[] }) {
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
