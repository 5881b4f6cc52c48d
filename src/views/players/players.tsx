'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { writeCsv } from '../../core/formats/csv/csv'
import { simulationTable } from '../../core/formats/simulation-table/write'
import type { Player } from '../../core/simulate/player'
import type { SimulationResult } from '../../core/simulate/result'
import type { Story } from '../../core/story/types'
import { itemName } from '../../session/names'
import type { JobAsk } from '../../core/contract/jobs'
import { Main, Plain, Quiet } from '../../ui/buttons'
import { Histogram } from '../../ui/charts/histogram'
import { ShareBars } from '../../ui/charts/share-bars'
import { SpreadChart } from '../../ui/charts/spread-chart'
import { saveFile } from '../../ui/save-file'
import { useLinked, useMayWrite, useSession, useSessionState } from '../shared/session/use-session'
import { GivenDraws, readDraws } from './given-draws'
import { HowOften } from './how-often'
import { Labelled } from './labelled'
import { ServerWork } from '../shared/work/server-work'
import { Playtests } from './playtests'
import { BOUND, playerOf, sayPlayer, UNENDED } from './players-words'

type MutableOptions = Extract<JobAsk, { kind: 'simulate' }>['options']

const NUMBERS = [200, 1_000, 5_000, 20_000]
/** More than a page should carry: on the server. */
const MANY = [200_000, 1_000_000, 10_000_000]
const WORDS_PER_MINUTE = 200

/** Thousands of playthroughs by players who decide by a simple rule, and what they met. */
export function Players() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { running, result, story: playedStory, failure } = useSessionState((state) => state.simulation)
  const [player, setPlayer] = useState(result === undefined ? 'random' : nameOf(result.player))
  const [plays, setPlays] = useState(NUMBERS[1]!)
  const [seed, setSeed] = useState(result?.seed ?? 1)
  const [speed, setSpeed] = useState(WORDS_PER_MINUTE)
  const linked = useLinked()
  const mayWrite = useMayWrite()
  const [draws, setDraws] = useState<Readonly<Record<string, string>>>({})
  const given = readDraws(linked, draws)
  const play = () => {
    if (given.troubles.size > 0) return
    const options = { player: playerOf(player), seed, given: given.draws }
    if (!MANY.includes(plays)) return session.players.play(story, plays, options)
    void session.work
      .begin({ kind: 'simulate', plays, options: options as MutableOptions })
      .then((begun) => begun.ok || session.tell(begun.error.message))
  }
  return (
    <>
      <Flex
        as="form"
        gap="4"
        align="end"
        wrap="wrap"
        mb="5"
        onSubmit={(event) => {
          event.preventDefault()
          play()
        }}
      >
        <Labelled name="A player who">
          <select className="field" value={player} onChange={(event) => setPlayer(event.target.value)}>
            <option value="random">chooses at random</option>
            <option value="curious">looks for text not read yet</option>
            {(story.endings ?? []).map(({ id, name }) => (
              <option key={id} value={BOUND + id}>
                goes for “{name}”
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled name="Playthroughs">
          <select className="field" value={plays} onChange={(event) => setPlays(Number(event.target.value))}>
            {NUMBERS.map((number) => (
              <option key={number} value={number}>
                {number.toLocaleString('en')}
              </option>
            ))}
            {mayWrite && (
              <optgroup label="On the server">
                {MANY.map((number) => (
                  <option key={number} value={number}>
                    {number.toLocaleString('en')}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
        </Labelled>
        <Labelled name="Seed">
          <input
            className="field"
            type="number"
            min={0}
            max={0xffffffff}
            value={seed}
            title="The same seed gives the same playthroughs"
            onChange={(event) => setSeed(Math.max(0, Math.trunc(event.target.valueAsNumber) || 0))}
            style={{ width: '6rem' }}
          />
        </Labelled>
        <Labelled name="Words read a minute">
          <input
            className="field"
            type="number"
            min={1}
            max={2000}
            value={speed}
            onChange={(event) => setSpeed(Math.max(1, Math.trunc(event.target.valueAsNumber) || 1))}
            style={{ width: '6rem' }}
          />
        </Labelled>
        <GivenDraws linked={linked} draws={draws} troubles={given.troubles} onChange={setDraws} />
        <Main type="submit">Play</Main>
        {running !== undefined && (
          <>
            <Text role="status">
              {running.plays.toLocaleString('en')} of {running.of.toLocaleString('en')} played
            </Text>
            <Plain onClick={() => session.players.stop()}>That is enough</Plain>
          </>
        )}
      </Flex>
      <ServerWork
        kind="simulate"
        counts="played"
        says={({ plays: many, options }) =>
          `${many.toLocaleString('en')} playthroughs, ${sayPlayer(story, options.player)}, seed ${options.seed}`
        }
      >
        {(job) => (
          <Quiet
            color="needle"
            onClick={() => void session.work.show(job).then((why) => why !== undefined && session.tell(why))}
          >
            Show
          </Quiet>
        )}
      </ServerWork>
      {failure !== undefined && (
        <Text role="alert" color="needle" mb="4">
          {failure}
        </Text>
      )}
      {result !== undefined && result.plays > 0 && playedStory !== undefined && (
        <>
          {playedStory !== story && (
            <Text role="status" bg="ochre.wash" px="4" py="2" mb="4">
              The story was edited since: play again for what holds now.
            </Text>
          )}
          <Met result={result} story={playedStory} speed={speed} />
        </>
      )}
      <Playtests />
    </>
  )
}

function nameOf(player: Player): string {
  return player.kind === 'bound' ? BOUND + player.ending : player.kind
}

function Met({ result, story, speed }: { result: SimulationResult; story: Story; speed: number }) {
  const { endings, unended, stages, decisions, words, counters } = result
  const bars = [
    ...Object.entries(endings).map(([id, { share }]) => ({ name: itemName(story, 'endings', id), share })),
    ...Object.entries(unended).flatMap(([how, { plays, share }]) =>
      plays === 0 ? [] : [{ name: UNENDED[how as keyof typeof UNENDED], share, hollow: true }],
    ),
  ]
  const minutes = (count: number) => (count / speed).toFixed(1)
  const saveTable = () => saveFile('players.csv', writeCsv(simulationTable(result)), 'text/csv')
  return (
    <Box data-played={result.plays}>
      <Flex align="baseline" gap="4" mb="3" wrap="wrap">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          {result.plays.toLocaleString('en')} playthroughs
        </Heading>
        {words.spread !== undefined && decisions.spread !== undefined && (
          <Text color="faded" data-length="">
            half of them take {decisions.spread.lowerQuartile} to {decisions.spread.upperQuartile} decisions and{' '}
            {minutes(words.spread.lowerQuartile)} to {minutes(words.spread.upperQuartile)} minutes of reading; the
            longest {minutes(words.spread.most)} minutes
          </Text>
        )}
      </Flex>
      <Flex gap="8" wrap="wrap" align="start">
        <ShareBars title="How it ends" file="endings" bars={bars} />
        {Object.keys(stages).length > 0 && (
          <ShareBars
            title="Quest stages that players come to"
            file="stages"
            bars={Object.entries(stages).map(([id, { share }]) => ({ name: itemName(story, 'stages', id), share }))}
          />
        )}
        {decisions.spread !== undefined && (
          <Histogram
            title="Length in decisions"
            file="decisions"
            bars={decisions.bars}
            median={decisions.spread.median}
            of="decisions"
          />
        )}
        {words.spread !== undefined && (
          <Histogram
            title="Length in words read"
            file="words"
            bars={words.bars}
            median={words.spread.median}
            of="words"
          />
        )}
        {Object.entries(counters).map(
          ([id, steps]) =>
            steps.length > 0 && <SpreadChart key={id} title={plainId(id)} file={`counter-${id}`} steps={steps} />,
        )}
      </Flex>
      <Box mt="5">
        <Plain onClick={saveTable}>Save all figures as CSV</Plain>
      </Box>
      <HowOften result={result} story={story} />
    </Box>
  )
}
