'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import type { PlaytestFigures } from '../../core/simulate/playtests'
import type { SimulationResult } from '../../core/simulate/result'
import { itemName, sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { EditFile, EditQuiet } from '../shared/fields/edits'
import { said } from '../shared/said'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { usePlaytests, type PlayedTest } from './use-playtests'

/** How people really played: records from the playing page, replayed in the story as it is now. */
export function Playtests() {
  const session = useSession()
  const playtests = usePlaytests()
  const [isOver, setOver] = useState(false)
  const add = (files: Iterable<File>) => session.playtests.add([...files])
  return (
    <Box
      as="section"
      aria-label="Playtests"
      mt="8"
      pt="4"
      borderTop="1px solid"
      borderColor="hairline"
      bg={isOver ? 'wash' : undefined}
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault()
        event.stopPropagation()
        setOver(false)
        void add(event.dataTransfer.files)
      }}
    >
      <Flex align="baseline" gap="4" mb="2" wrap="wrap">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Playtests
        </Heading>
        <EditFile
          label="Records of playtests"
          accept=".json,application/json"
          multiple
          onPick={(files) => void add(files)}
        >
          Add records …
        </EditFile>
      </Flex>
      {playtests === undefined ? (
        <Text color="faded">Reading …</Text>
      ) : playtests.tests.length === 0 ? (
        <Text color="faded" maxW="44rem">
          None yet. In Export, let the playing page ask its readers for a record; drop the files that they give you
          here.
        </Text>
      ) : (
        <>
          <Figures figures={playtests.figures} />
          <Box as="ul" aria-label="Records" listStyleType="none" mt="4" maxW="60rem">
            {playtests.tests.map((test) => (
              <Test key={test.kept.id} test={test} />
            ))}
          </Box>
        </>
      )}
    </Box>
  )
}

const percent = (share: number) => `${Math.round(share * 100)} %`

function Figures({ figures }: { figures: PlaytestFigures }) {
  const story = useSessionState((state) => state.story)
  const simulated = useSessionState(({ simulation, story: now }) =>
    simulation.story === now ? simulation.result : undefined,
  )
  const { plays, endings, stopped, minutes, parted } = figures
  const rows = (story.endings ?? []).filter(
    ({ id }) => endings[id] !== undefined || simulated?.endings[id] !== undefined,
  )
  return (
    <Box>
      <Text mb="2">
        {said(plays, 'record')}
        {minutes !== undefined &&
          `: half of them take ${minutes.lowerQuartile} to ${minutes.upperQuartile} minutes, the longest ${minutes.most}`}
        {parted > 0 && `; ${said(parted, 'record')} part from the story as it is now`}.
      </Text>
      <Flex gap="10" wrap="wrap" align="start">
        <Box as="table" aria-label="How playtests end">
          <thead>
            <tr>
              {['Ending', 'played', 'simulated'].map((name, at) => (
                <Box as="th" key={name} textAlign={at === 0 ? 'left' : 'right'} color="faded" fontWeight={400} pr="4">
                  {name}
                </Box>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ id }) => (
              <Row
                key={id}
                name={itemName(story, 'endings', id)}
                played={endings[id]?.share ?? 0}
                of={simulated}
                id={id}
              />
            ))}
          </tbody>
        </Box>
        {stopped.length > 0 && (
          <Box>
            <Text color="faded">Where they stopped without an ending</Text>
            <Box as="ul" aria-label="Where they stopped" listStyleType="none">
              {stopped.slice(0, 8).map(({ beat, plays: count }) => (
                <li key={beat}>
                  {sayAddress(beat, story)}: {count} of {plays}
                </li>
              ))}
            </Box>
          </Box>
        )}
      </Flex>
    </Box>
  )
}

function Row({ id, name, played, of }: { id: string; name: string; played: number; of: SimulationResult | undefined }) {
  const share = of?.endings[id]?.share
  return (
    <tr>
      <Box as="td" pr="4">
        {name}
      </Box>
      <Box as="td" textAlign="right" pr="4">
        {percent(played)}
      </Box>
      <Box as="td" textAlign="right" pr="4">
        {of === undefined ? '–' : percent(share ?? 0)}
      </Box>
    </tr>
  )
}

function Test({ test: { kept, replayed } }: { test: PlayedTest }) {
  const session = useSession()
  const walk = useWalk()
  const story = useSessionState((state) => state.story)
  const plays = replayed.route.slice(0, replayed.played)
  const keep = () => {
    const routes = session.getState().story.routes ?? []
    const id = freshId(idFrom(kept.name, 'playtest'), (taken) => routes.some((route) => route.id === taken))
    const trouble = session.edit({
      op: 'insert',
      in: { list: 'routes' },
      at: routes.length,
      item: {
        id,
        name: kept.name,
        decisions: [...plays],
        ...(replayed.ending === undefined ? {} : { expect: { ending: replayed.ending } }),
      },
    })
    session.tell(trouble ?? `“${kept.name}” is a kept route now: see Bearings.`)
  }
  return (
    <Flex as="li" gap="3" wrap="wrap" align="baseline" py="1" borderTop="1px solid" borderColor="hairline">
      <Text as="span" fontWeight={600}>
        {kept.name}
      </Text>
      <Text as="span" color="faded">
        {(replayed.seconds / 60).toFixed(1)} minutes, {said(replayed.played, 'step')};{' '}
        {replayed.parts !== undefined
          ? `parts at step ${replayed.played + 1}, in ${sayAddress(replayed.at, story)}: ${replayed.parts}`
          : replayed.ending !== undefined
            ? `ended with “${itemName(story, 'endings', replayed.ending)}”`
            : `stopped at ${sayAddress(replayed.at, story)}`}
      </Text>
      <Box flex="1" />
      <Quiet onClick={() => walk(plays)}>Walk it</Quiet>
      <EditQuiet disabled={plays.length === 0} onClick={keep}>
        Keep as a route
      </EditQuiet>
      <EditQuiet aria-label={`Delete the playtest ${kept.name}`} onClick={() => void session.playtests.remove(kept.id)}>
        Delete
      </EditQuiet>
    </Flex>
  )
}
