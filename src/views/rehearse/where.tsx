'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useEffect, useRef } from 'react'
import type { PlayState } from '../../core/play/state'
import type { LinkedStory } from '../../core/story/linked'
import { beatName } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { useSessionState } from '../shared/session/use-session'
import { useVerdict } from '../shared/session/verdicts'

interface Props {
  readonly linked: LinkedStory
  readonly state: PlayState
  readonly onBegin: (beat: string) => void
}

/** The outline, as the play goes through it: the scene one is in is open, the beat one is at stands out, visited ones are told. */
export function Where({ linked, state, onBegin }: Props) {
  const here = linked.beats[state.at]
  return (
    <Box as="nav" aria-label="Where the play is">
      <Heading as="h2" fontSize="sm" fontWeight={600} color="faded" mb="1">
        Where you are
      </Heading>
      {linked.scenes.map((scene, at) => (
        <Box key={scene.id}>
          <Text fontFamily="story" truncate color={here?.scene === at ? 'ink' : 'faded'} title={scene.title}>
            {scene.title}
          </Text>
          {here?.scene === at &&
            linked.inOrder
              .filter((beat) => beat.scene === at)
              .map((beat) => (
                <BeatHere
                  key={beat.address}
                  address={beat.address}
                  current={beat === here}
                  visits={state.visits[beat.index]!}
                  onBegin={() => onBegin(beat.address)}
                />
              ))}
        </Box>
      ))}
    </Box>
  )
}

function BeatHere({
  address,
  current,
  visits,
  onBegin,
}: {
  address: string
  current: boolean
  visits: number
  onBegin: () => void
}) {
  const verdict = useVerdict(address)
  const name = useSessionState(({ story }) => beatName(story, address))
  const row = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: 'nearest' })
  }, [current])
  return (
    <Quiet
      ref={row}
      display="flex"
      w="100%"
      pl="3"
      gap="2"
      color={visits > 0 || current ? 'ink' : 'faded'}
      bg={current ? 'needle.wash' : undefined}
      fontWeight={current ? 600 : 400}
      aria-current={current ? 'location' : undefined}
      title="Begin here"
      onClick={onBegin}
      data-here={current ? address : undefined}
    >
      <VerdictMark verdict={verdict} />
      <Text as="span" flex="1" minW="0" truncate>
        {name}
      </Text>
      {visits > 0 && (
        <Flex as="span" color="faded" fontSize="xs" fontWeight={400}>
          {visits === 1 ? 'visited' : `${visits} times`}
        </Flex>
      )}
    </Quiet>
  )
}
