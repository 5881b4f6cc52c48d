'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Finding, Level, SurveyResult } from '../../core/survey/result'
import { Quiet } from '../../ui/buttons'
import { LevelMark, VerdictMark } from '../../ui/marks'
import { itemName } from '../../session/names'
import { LEVELS, byLevel } from '../shared/findings'
import { useSessionState } from '../shared/use-session'
import { useWalk } from '../shared/use-walk'
import { verdictOf } from '../shared/verdicts'
import { FindingRow } from './finding-row'
import { KeptRoutes } from './kept-routes'
import { PointsOfNoReturn } from './no-return'
import { Promises } from './promises'

/** Each mend that is offered was tried by a survey of its own; among more findings than this none is. */
const MENDS_MAX = 60

/** What the survey found: endings and stages, promises, and everything that is wrong or worth a look. */
export function Bearings() {
  const result = useSessionState((state) => state.survey.report?.result)
  return (
    <Box as="main" overflowY="auto" h="100%" px="6" py="5" tabIndex={-1}>
      <Box maxW="60rem" mx="auto">
        {result === undefined ? (
          <Text color="faded">Surveying …</Text>
        ) : (
          <>
            {!result.complete && (
              <Text role="status" bg="ochre.wash" px="4" py="2" mb="4">
                The survey was cut short: what is listed is certain, and what is marked undecided is not known yet.
              </Text>
            )}
            <Flex gap="10" wrap="wrap" align="start">
              <Reaches title="Endings" what="endings" result={result} />
              <Reaches title="Quest stages" what="stages" result={result} />
            </Flex>
            <Findings findings={result.findings} />
            <Promises result={result} />
            <KeptRoutes result={result} />
            <PointsOfNoReturn result={result} />
          </>
        )}
      </Box>
    </Box>
  )
}

function Reaches({ title, what, result }: { title: string; what: 'endings' | 'stages'; result: SurveyResult }) {
  const story = useSessionState((state) => state.story)
  const walk = useWalk()
  const ids = what === 'endings' ? (story.endings ?? []).map(({ id }) => id) : (story.quests ?? []).flatMap((quest) => quest.stages.map((stage) => `${quest.id}.${stage.id}`))
  return (
    <Box as="section" flex="1 1 24rem" minW="0">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        {title}
      </Heading>
      {ids.length === 0 && (
        <Text color="faded">{what === 'endings' ? 'The story has no endings yet. On the Desk, “+ ending” under a beat makes one.' : 'The story has no quests yet.'}</Text>
      )}
      {ids.map((id) => {
        const verdict = verdictOf(result, what, id)
        const found = result.reached[what][id]
        return (
          <Flex key={id} align="center" gap="2.5" py="1" borderBottom="1px solid" borderColor="hairline" data-reach={id} data-verdict={verdict}>
            <VerdictMark verdict={verdict} />
            <Text flex="1" fontFamily="story" minW="0">
              {itemName(story, what, id)}
            </Text>
            {found === undefined ? (
              <Text color={verdict === 'unreached' ? 'needle' : 'ochre'}>{verdict === 'unreached' ? 'on no route' : 'undecided'}</Text>
            ) : (
              <>
                <Text color="faded">{found.decisions === 1 ? '1 decision' : `${found.decisions} decisions`}</Text>
                <Quiet color="needle" aria-label={`Walk it: ${itemName(story, what, id)}`} onClick={() => walk(found.route ?? [])}>
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

function Findings({ findings }: { findings: readonly Finding[] }) {
  const [hidden, setHidden] = useState<ReadonlySet<Level>>(new Set())
  const shown = byLevel(findings).filter(({ level }) => !hidden.has(level))
  const toggle = (level: Level) => {
    const next = new Set(hidden)
    if (!next.delete(level)) next.add(level)
    setHidden(next)
  }
  return (
    <Box as="section" mt="8">
      <Flex align="baseline" gap="4" mb="2">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Findings
        </Heading>
        {LEVELS.map((level) => (
          <Quiet key={level} aria-pressed={!hidden.has(level)} onClick={() => toggle(level)} opacity={hidden.has(level) ? 0.75 : 1} textDecoration={hidden.has(level) ? 'line-through' : undefined}>
            <Flex as="span" align="center" gap="1.5">
              <LevelMark level={level} />
              {findings.filter((finding) => finding.level === level).length} {level === 'error' ? 'errors' : level === 'warning' ? 'warnings' : 'notes'}
            </Flex>
          </Quiet>
        ))}
      </Flex>
      {findings.length === 0 && <Text color="kept">Nothing is wrong: everything that was written is reached, and nothing gets stuck.</Text>}
      {shown.map((finding) => (
        <FindingRow key={`${finding.kind} ${finding.key.join(' ')}`} finding={finding} mends={findings.length <= MENDS_MAX} />
      ))}
    </Box>
  )
}
