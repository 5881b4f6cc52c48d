'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import type { SimulationResult } from '../../core/simulate/result'
import type { Story } from '../../core/story/types'
import { sayAddress, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useGrowing } from '../../ui/use-growing'
import { useGoTo } from '../shared/session/use-go-to'

const SHOWN = 100

interface Row {
  readonly address: string
  readonly beat: string
  readonly share: number
  readonly says: string
  readonly isChoice: boolean
}

/** Every beat and choice with the share of players who see or take it, the seldom ones first or in the order of the story. */
export function HowOften({ result, story }: { result: SimulationResult; story: Story }) {
  const goTo = useGoTo()
  const [order, setOrder] = useState<'seldom' | 'story'>('seldom')
  const rows = useMemo(() => {
    const all: Row[] = story.scenes.flatMap((scene) =>
      scene.beats.flatMap((beat) => {
        const address = `${scene.id}.${beat.id}`
        const seen = result.beats[address]
        const choices = (beat.choices ?? []).flatMap((choice): Row[] => {
          const taken = result.choices[`${address}.${choice.id}`]
          return taken === undefined
            ? []
            : [
                {
                  address: `${address}.${choice.id}`,
                  beat: address,
                  share: taken.share,
                  isChoice: true,
                  says:
                    taken.offered === 0
                      ? 'never offered'
                      : `taken ${taken.taken.toLocaleString('en')} of ${taken.offered.toLocaleString('en')} times offered`,
                },
              ]
        })
        return seen === undefined
          ? choices
          : [
              {
                address,
                beat: address,
                share: seen.share,
                isChoice: false,
                says: `seen ${seen.times.toLocaleString('en')} times`,
              },
              ...choices,
            ]
      }),
    )
    return order === 'seldom' ? all.sort((a, b) => a.share - b.share) : all
  }, [result, story, order])
  const names = storyNames(story)
  const { shown, end } = useGrowing(rows.length, SHOWN)
  return (
    <Box as="section" mt="8" aria-label="How often each beat is seen">
      <Flex align="baseline" gap="4" mb="2">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          How often each beat is seen and each choice taken
        </Heading>
        <Quiet onClick={() => setOrder(order === 'seldom' ? 'story' : 'seldom')}>
          {order === 'seldom' ? 'seldom first' : 'in the order of the story'}
        </Quiet>
      </Flex>
      {rows.slice(0, shown).map((row) => (
        <Flex
          key={row.address}
          align="center"
          gap="3"
          py="0.5"
          borderBottom="1px solid"
          borderColor="hairline"
          data-seen={row.address}
        >
          <Text flex="1" minW="0" fontFamily="story" truncate pl={row.isChoice ? '4' : '0'}>
            {row.isChoice ? names.choice(row.address) : sayAddress(row.address, story)}
          </Text>
          <Text color="faded" fontSize="sm" whiteSpace="nowrap">
            {row.says}
          </Text>
          <Box w="7rem" h="0.6rem" border="1px solid" borderColor="edge" flexShrink={0} aria-hidden="true">
            <Box h="100%" bg="kept" style={{ width: `${row.share * 100}%` }} />
          </Box>
          <Text w="3.6rem" textAlign="right">
            {(row.share * 100).toFixed(row.share > 0 && row.share < 0.01 ? 1 : 0)} %
          </Text>
          <Quiet aria-label={`Go to it: ${row.address}`} onClick={() => goTo(row.beat)}>
            go to it
          </Quiet>
        </Flex>
      ))}
      {end}
    </Box>
  )
}
