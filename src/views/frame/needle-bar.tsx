'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { FINDING_KINDS, type FindingKind } from '../../core/survey/findings/finding'
import type { CarriedKind } from '../../core/survey/carry/carried'
import type { SurveyReport } from '../../session/survey-report'
import { Quiet } from '../../ui/buttons'
import { LevelMark, Needle } from '../../ui/marks'
import type { SurveyState } from '../../session/survey-handle'
import { Answering } from '../shared/session/answering'
import { useFindings } from '../shared/session/findings'
import { useTravel } from '../shared/session/use-travel'
import { useSession, useSessionState } from '../shared/session/use-session'
import { ByOther } from './by-other'
import { consequence } from './consequence'

/** The needle: what the survey says of the whole story, after every edit. */
export function NeedleBar({ id }: { id: string }) {
  const session = useSession()
  const travel = useTravel()
  const survey = useSessionState((state) => state.survey)
  const story = useSessionState((state) => state.story)
  const result = survey.report
  const told = result === undefined ? undefined : reachedCount(result)
  const changed = consequence(story, survey.before, result)
  return (
    <Flex
      as="footer"
      aria-label="The needle"
      align="center"
      columnGap="3"
      wrap={{ base: 'wrap', lg: 'nowrap' }}
      px="4"
      minH="9"
      borderTop="1px solid"
      borderColor="hairline"
      bg="ground"
      fontSize="sm"
      whiteSpace={{ base: 'normal', lg: 'nowrap' }}
      overflow="hidden"
    >
      <Needle
        angle={
          told === undefined
            ? 90
            : told.reached === told.all
              ? 0
              : 24 + 120 * (1 - told.reached / Math.max(1, told.all))
        }
        size={16}
      />
      <Box
        role="status"
        aria-live="polite"
        data-needle={survey.running === undefined && result !== undefined ? 'settled' : 'moving'}
        overflow="hidden"
        textOverflow="ellipsis"
      >
        {survey.failure !== undefined ? (
          <Text color="needle">The survey failed: {survey.failure}</Text>
        ) : (
          <Summary survey={survey} />
        )}
      </Box>
      {survey.running !== undefined && survey.running.states > 0 && (
        <Quiet color="needle" onClick={() => session.survey.stop()} title="Answer with what is decided so far">
          Stop
        </Quiet>
      )}
      <Answering />
      <Box flex="1" />
      <ByOther />
      {changed !== undefined && (
        <Text color="faded" overflow="hidden" textOverflow="ellipsis" data-consequence="">
          this edit: {changed}{' '}
          <Quiet color="needle" onClick={() => travel('undo')}>
            Undo
          </Quiet>
        </Text>
      )}
      <ReleasedSay id={id} />
      <CommentCount id={id} />
      <Levels result={result} id={id} />
    </Flex>
  )
}

/** What the story as it is does to players who are in the middle of a released version. */
function ReleasedSay({ id }: { id: string }) {
  const released = useSessionState((state) => state.released)
  return released.map(({ name, revision, carried, isFresh }) => {
    const stranded = carried?.findings.filter(({ kind }) => STRANDS.has(kind)).length ?? 0
    if (carried === undefined || (stranded === 0 && carried.findings.length === 0 && carried.complete)) return null
    const says =
      stranded > 0
        ? `players of “${name}” would be stranded: ${stranded}`
        : carried.findings.length > 0
          ? `saves of “${name}”: ${carried.findings.length} to look at`
          : `saves of “${name}” not all looked at`
    return (
      <Quiet key={revision} asChild fontSize="sm" color={stranded > 0 ? 'needle' : 'faded'} opacity={isFresh ? 1 : 0.6}>
        <Link
          href={`/story/${id}/history?from=${revision}`}
          data-released={revision}
          title={isFresh ? 'What becomes of their saves' : 'As it was before the last edits; it is looked at again'}
        >
          {says}
        </Link>
      </Quiet>
    )
  })
}

const STRANDS: ReadonlySet<string> = new Set<CarriedKind>([
  'carried-dead-end',
  'carried-no-way-out',
  'carried-endless',
  'carried-stranded',
])

/** How many threads are open, where there is somebody to talk to. */
function CommentCount({ id }: { id: string }) {
  const count = useSessionState(({ threads }) => threads?.filter(({ done }) => done === null).length)
  if (count === undefined) return null
  return (
    <Quiet asChild fontSize="sm">
      <Link href={`/story/${id}/comments`} title="All that is said about the story">
        {count === 1 ? '1 comment' : `${count} comments`}
      </Link>
    </Quiet>
  )
}

function reachedCount({ reached, unreached, undecided }: SurveyReport): { reached: number; all: number } {
  const found = Object.keys(reached.endings).length + Object.keys(reached.stages).length
  const missing = [unreached, undecided].reduce((sum, part) => sum + part.endings.length + part.stages.length, 0)
  return { reached: found, all: found + missing }
}

function Summary({ survey: { running, report } }: { survey: SurveyState }) {
  if (report === undefined)
    return <>{running === undefined ? '' : `surveying … ${running.states.toLocaleString('en')} states`}</>
  const { reached, all } = reachedCount(report)
  const parts = [all === 0 ? 'no endings or stages yet' : `${reached} of ${all} endings and stages reached`]
  for (const kind of ['dead-end', 'no-way-out', 'endless-run'] as const satisfies readonly FindingKind[]) {
    const count = report.findings.filter((finding) => finding.kind === kind).length
    if (count > 0) parts.push(count === 1 ? `1 ${FINDING_KINDS[kind].name}` : `${count} ${PLURALS[kind]}`)
  }
  parts.push(report.complete ? 'exact' : 'cut short')
  parts.push(
    running === undefined
      ? `${Math.max(1, Math.round(report.took))} ms`
      : `surveying … ${running.states === 0 ? '' : `${running.states.toLocaleString('en')} states`}`,
  )
  return <>{parts.join(' · ')}</>
}

const PLURALS = { 'dead-end': 'dead ends', 'no-way-out': 'without a way out', 'endless-run': 'endless runs' } as const

function Levels({ result, id }: { result: SurveyReport | undefined; id: string }) {
  const findings = useFindings()
  if (result === undefined) return null
  const count = (level: string) => findings.filter((finding) => finding.level === level).length
  return (
    <Flex asChild gap="3" align="center" color="faded" _hover={{ color: 'ink' }}>
      <Link href={`/story/${id}/bearings`} title="All findings (F8: the next one)">
        {(['error', 'warning', 'note'] as const).map((level) => (
          <Flex as="span" key={level} align="center" gap="1">
            <LevelMark level={level} />
            {count(level)}
          </Flex>
        ))}
      </Link>
    </Flex>
  )
}
