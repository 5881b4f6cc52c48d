'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { beatName } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useSessionState } from '../shared/session/use-session'
import { useLive, useLiveState } from './live-context'

/** The games that play this story now, in one row above the needle; nothing where there are none. */
export function GamesStrip() {
  const live = useLive()
  const { games, following } = useLiveState()
  const story = useSessionState((state) => state.story)
  if (games.length === 0) return null
  return (
    <Flex
      as="section"
      aria-label="Running games"
      px="4"
      py="1"
      columnGap="4"
      wrap="wrap"
      align="center"
      borderTop="1px solid"
      borderColor="hairline"
      fontSize="sm"
    >
      {games.map(({ id, name, state }) => (
        <Flex key={id} align="center" gap="2" data-game={name}>
          <Box as="span" aria-hidden w="8px" h="8px" borderRadius="50%" bg="needle" />
          <Text as="span" fontWeight={600}>
            {name}
          </Text>
          <Text as="span" color="faded">
            {state?.beat ? beatName(story, state.beat) : 'joined'}
          </Text>
          <Quiet aria-pressed={following === id} onClick={() => live?.follow(following === id ? undefined : id)}>
            {following === id ? 'Stop following' : 'Follow'}
          </Quiet>
        </Flex>
      ))}
    </Flex>
  )
}
