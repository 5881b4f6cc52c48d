'use client'

import { Text } from '@chakra-ui/react'
import type { ChartWords } from './chart-words'
import type { Sign } from './sheet'

/** What one sees of a beat that the pointer is on. */
export function BeatTip({ words, beat, sign }: { words: ChartWords; beat: number; sign: Sign | undefined }) {
  const { chart } = words
  const isMargin = chart.inMargin[beat] === 1
  return (
    <>
      <Text fontFamily="story" fontWeight={600}>
        {words.title(beat)}
      </Text>
      <Text color="faded">
        {words.sceneOf(beat)} ·{' '}
        {isMargin
          ? 'on no route'
          : chart.byRoads[beat] === 1
            ? `not decided yet; after ${chart.column[beat]} by roads alone`
            : chart.column[beat] === 0
              ? 'the start'
              : `after ${chart.column[beat]}`}
        {sign?.words === undefined ? '' : ` · ${sign.words}`}
      </Text>
      {words.first(beat) !== '' && (
        <Text fontFamily="story" fontStyle="italic" lineClamp={2}>
          {words.first(beat)}
        </Text>
      )}
    </>
  )
}

/** What a road is, when it opens, what it changes, where it leads. */
export function RoadTip({ words, road }: { words: ChartWords; road: number }) {
  const { head, gate, does, to } = words.sayRoad(road)
  return (
    <>
      <Text fontWeight={600}>{head}</Text>
      {gate !== undefined && <Text>opens when {gate}</Text>}
      {does !== undefined && <Text>{does}</Text>}
      <Text color="faded">{to}</Text>
    </>
  )
}
