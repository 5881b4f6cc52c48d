'use client'

import { Box, Flex, Tabs, Heading, Text } from '@chakra-ui/react'
import type { SurveyReport } from '../../session/survey-report'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { itemName } from '../../session/names'
import { Players } from '../players/players'
import { usePlayersForShares } from '../shared/session/use-players'
import { useAddressed } from '../shared/session/use-addressed'
import { useSessionState } from '../shared/session/use-session'
import { useWalkTo } from '../shared/session/use-walk'
import { verdictOf } from '../shared/session/verdicts'
import { Findings } from './findings-list'
import { KeptRoutes } from './kept-routes'
import { LongerSurvey } from './longer-survey'
import { PointsOfNoReturn } from './no-return'
import { Promises } from './promises'
import { ReadingRoutes } from './reading-routes'
import { said } from '../shared/said'

const PARTS = [
  { part: 'found', name: 'What the survey found' },
  { part: 'players', name: 'Simulated players' },
] as const
type Part = (typeof PARTS)[number]['part']

/** What the survey found: endings and stages, promises, and everything that is wrong or worth a look. */
export function Bearings() {
  const result = useSessionState((state) => state.survey.report)
  const [addressed, setPart] = useAddressed('part')
  const part: Part = addressed === 'players' ? 'players' : 'found'
  usePlayersForShares(result)
  return (
    <Box as="main" overflowY="auto" h="100%" px="6" py="4" tabIndex={-1}>
      <Box maxW="60rem" mx="auto">
        <Tabs.Root
          value={part}
          onValueChange={({ value }) => setPart(value === 'found' ? undefined : value)}
          lazyMount
          unmountOnExit
          variant="line"
          size="sm"
        >
          <Tabs.List aria-label="Parts of Bearings" mb="4" borderColor="hairline">
            {PARTS.map((one) => (
              <Tabs.Trigger
                key={one.part}
                value={one.part}
                color="faded"
                fontWeight={500}
                fontSize="inherit"
                px="0"
                me="5"
                h="7"
                _selected={{ color: 'ink', _horizontal: { '--indicator-color': 'colors.needle' } }}
              >
                {one.name}
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          <Tabs.Content value="players" _horizontal={{ pt: '0' }}>
            <Players />
          </Tabs.Content>
          <Tabs.Content value="found" _horizontal={{ pt: '0' }}>
            <Found result={result} />
          </Tabs.Content>
        </Tabs.Root>
      </Box>
    </Box>
  )
}

function Found({ result }: { result: SurveyReport | undefined }) {
  if (result === undefined) return <Text color="faded">Surveying …</Text>
  return (
    <>
      {!result.complete && <LongerSurvey />}
      <Flex gap="10" wrap="wrap" align="start">
        <Reaches title="Endings" what="endings" result={result} />
        <Reaches title="Quest stages" what="stages" result={result} />
      </Flex>
      <Findings />
      <Promises result={result} />
      <KeptRoutes result={result} />
      <ReadingRoutes result={result} />
      <PointsOfNoReturn />
    </>
  )
}

function Reaches({ title, what, result }: { title: string; what: 'endings' | 'stages'; result: SurveyReport }) {
  const story = useSessionState((state) => state.story)
  const walkTo = useWalkTo()
  const shares = useSessionState(({ simulation, story: now }) =>
    simulation.story === now && simulation.result?.player.kind === 'random' ? simulation.result[what] : undefined,
  )
  const ids =
    what === 'endings'
      ? (story.endings ?? []).map(({ id }) => id)
      : (story.quests ?? []).flatMap((quest) => quest.stages.map((stage) => `${quest.id}.${stage.id}`))
  return (
    <Box as="section" flex="1 1 24rem" minW="0">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        {title}
      </Heading>
      {ids.length === 0 && (
        <Text color="faded">
          {what === 'endings'
            ? 'The story has no endings yet. On the Desk, “+ ending” under a beat makes one.'
            : 'The story has no quests yet.'}
        </Text>
      )}
      {ids.map((id) => {
        const verdict = verdictOf(result, what, id)
        const found = result.reached[what][id]
        return (
          <Flex
            key={id}
            align="center"
            gap="2.5"
            py="1"
            borderBottom="1px solid"
            borderColor="hairline"
            data-reach={id}
            data-verdict={verdict}
          >
            <VerdictMark verdict={verdict} />
            <Text flex="1" fontFamily="story" minW="0">
              {itemName(story, what, id)}
            </Text>
            {found === undefined ? (
              <Text color={verdict === 'unreached' ? 'needle' : 'ochre'}>
                {verdict === 'unreached' ? 'on no route' : 'undecided'}
              </Text>
            ) : (
              <>
                {/* its room is there before it is known: what stands below stays where it is */}
                <Text
                  color="faded"
                  minW="6.75rem"
                  textAlign="right"
                  whiteSpace="nowrap"
                  title="Share of simulated players who choose at random"
                  data-share={shares?.[id]?.share}
                >
                  {shares?.[id] !== undefined && `${Math.round(shares[id].share * 100)} % of players`}
                </Text>
                <Text color="faded">{said(found.decisions, 'decision')}</Text>
                <Quiet
                  color="needle"
                  aria-label={`Walk it: ${itemName(story, what, id)}`}
                  onClick={() => walkTo(what, id)}
                >
                  walk it
                </Quiet>
              </>
            )}
          </Flex>
        )
      })}
    </Box>
  )
}
