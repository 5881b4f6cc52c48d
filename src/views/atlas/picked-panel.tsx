'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { NO_BEAT, roadsAt, TAKEN } from '../../core/story/roads'
import { Bare } from '../../ui/bare'
import { Plain, Quiet } from '../../ui/buttons'
import { WhyNotPanel } from '../bearings/why-not-panel'
import { BearingPanel } from '../desk/bearing/bearing-panel'
import { useGoTo } from '../shared/session/use-go-to'
import type { ChartWords } from './chart-words'
import { RoadTip } from './tips'

interface Props {
  readonly words: ChartWords
  readonly picked: number | undefined
  readonly road: number | undefined
  readonly onPick: (beat: number, road?: number) => void
  readonly onRoad: (road: number | undefined) => void
  readonly onRehearse: (beat: number) => void
}

/** The picked beat: what can be done with it, all its roads, its bearing. */
export function PickedPanel({ words, picked, road, onPick, onRoad, onRehearse }: Props) {
  const goTo = useGoTo()
  const { chart } = words
  if (picked === undefined)
    return (
      <Text p="4" color="faded">
        Pick a beat to see its roads and its bearing.
      </Text>
    )
  const { out, into } = roadsAt(chart.roads, picked)
  return (
    <Box overflowY="auto" h="100%" tabIndex={-1}>
      <Flex gap="2" px="4" pt="3" wrap="wrap">
        <Plain fontSize="sm" onClick={() => goTo(chart.beats[picked]!)} title="Enter">
          Open the text
        </Plain>
        {chart.inMargin[picked] === 0 && (
          <Quiet fontSize="sm" onClick={() => onRehearse(picked)} title="Alt+Enter, or Alt and a press">
            Rehearse from here
          </Quiet>
        )}
      </Flex>
      <BearingPanel>
        <Box mb="4">
          <Roads
            title="Roads from here"
            list={out}
            words={words}
            picked={road}
            onRoad={onRoad}
            onGo={onPick}
            end="to"
          />
          <Roads
            title="Roads to here"
            list={into}
            words={words}
            picked={road}
            onRoad={onRoad}
            onGo={onPick}
            end="from"
          />
        </Box>
      </BearingPanel>
    </Box>
  )
}

/** So many roads are listed before one asks for all. */
const LISTED = 6

interface RoadsProps {
  readonly title: string
  readonly list: readonly number[]
  readonly words: ChartWords
  readonly picked: number | undefined
  readonly onRoad: (road: number | undefined) => void
  readonly onGo: (beat: number) => void
  readonly end: 'to' | 'from'
}

function Roads({ title, list, words, picked, onRoad, onGo, end }: RoadsProps) {
  const [all, setAll] = useState(false)
  const { roads, taken } = words.chart
  if (list.length === 0) return null
  const shown = all ? list : list.slice(0, LISTED)
  return (
    <Box as="section" mt="3">
      <Heading as="h3" fontSize="sm" fontWeight={600} color="faded" mb="1">
        {title}
      </Heading>
      {shown.map((road) => {
        const beat = roads[end][road]!
        return (
          <Box
            key={road}
            py="1"
            borderTop="1px solid"
            borderColor="hairline"
            bg={road === picked ? 'needle.wash' : undefined}
            data-road={words.written(road).address}
          >
            <Bare
              className="flush wrapped"
              style={{ textAlign: 'start', display: 'block' }}
              onClick={() => onRoad(road === picked ? undefined : road)}
            >
              <RoadTip words={words} road={road} />
            </Bare>
            <Flex gap="1">
              {beat !== NO_BEAT && (
                <Quiet px="1" fontSize="xs" onClick={() => onGo(beat)}>
                  go to “{words.title(beat)}”
                </Quiet>
              )}
            </Flex>
            {taken[road] === TAKEN.never && <WhyNot address={words.written(road).address} />}
          </Box>
        )
      })}
      {shown.length < list.length && <Quiet onClick={() => setAll(true)}>all {list.length}</Quiet>}
    </Box>
  )
}

function WhyNot({ address }: { address: string }) {
  const [isAsked, setAsked] = useState(false)
  return (
    <>
      <Quiet px="1" fontSize="xs" aria-expanded={isAsked} onClick={() => setAsked(!isAsked)}>
        why not?
      </Quiet>
      {isAsked && <WhyNotPanel address={address} />}
    </>
  )
}
