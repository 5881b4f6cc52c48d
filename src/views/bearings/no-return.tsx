'use client'

import { beatOf, parseAddress } from '../../core/base/address'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { itemName, sayAddress, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { NoAnswer } from '../shared/session/no-answer'
import { answerOf, useAnswer } from '../shared/session/use-answer'
import { useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'

const SHOWN = 60

/** The decisions after which an ending that could still be come to is lost, in story order. */
export function PointsOfNoReturn() {
  const story = useSessionState((state) => state.story)
  const walk = useWalk()
  const asked = useAnswer('no-return', 'all', () => ({}))
  const points = answerOf(asked)
  const { choice, beat } = storyNames(story)
  const names = (ids: readonly string[]) => ids.map((id) => `“${itemName(story, 'endings', id)}”`).join(', ')
  return (
    <Box as="section" mt="8" aria-label="Points of no return">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        Points of no return
      </Heading>
      {asked.status === 'failed' && <NoAnswer {...asked} />}
      {points === 'too many' && <Text color="faded">The story has too many states to list them.</Text>}
      {points?.length === 0 && <Text color="faded">No decision closes an ending before the story ends.</Text>}
      {(points === 'too many' ? [] : (points ?? [])).slice(0, SHOWN).map((point) => (
        <Flex
          key={point.address}
          gap="3"
          py="1"
          align="baseline"
          borderBottom="1px solid"
          borderColor="hairline"
          data-no-return={point.address}
        >
          <Box flex="1" minW="0">
            <Text fontFamily="story">
              {parseAddress(point.address)?.choice !== undefined
                ? choice(point.address)
                : `the word at ${beat(point.address)}`}{' '}
              <Text as="span" color="faded" fontFamily="body" fontSize="sm">
                {sayAddress(beatOf(point.address) ?? point.address, story)}
              </Text>
            </Text>
            <Text color="faded" fontSize="sm">
              {point.always.length > 0 && `closes ${names(point.always)}`}
              {point.always.length > 0 && point.sometimes.length > 0 && '; '}
              {point.sometimes.length > 0 && `in some cases closes ${names(point.sometimes)}`}
            </Text>
          </Box>
          <Quiet color="needle" aria-label={`Walk it: up to ${point.address}`} onClick={() => walk(point.route)}>
            walk it
          </Quiet>
        </Flex>
      ))}
      {points !== undefined && points !== 'too many' && points.length > SHOWN && (
        <Text color="faded">and {points.length - SHOWN} more</Text>
      )}
    </Box>
  )
}
