'use client'

import { plainId } from '../../../core/base/ids'
import { NoAnswer } from '../../shared/session/no-answer'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { useParams, usePathname } from 'next/navigation'
import { memo, useState, type ReactNode } from 'react'
import { beatAt } from '../../../core/story/beat-at'
import { namesIn } from '../../../core/story/reshape/names-in'
import type { RouteItem, Story } from '../../../core/story/types'
import type { Bearing, EntryValues } from '../../../core/survey/questions/bearing'
import type { Share } from '../../../core/survey/findings/exploration'
import { nameOfFinding, type Finding } from '../../../core/survey/findings/finding'
import { beatName, sayValue, storyNames } from '../../../session/names'
import { findingsOfBeat } from '../../../session/findings-of-beat'
import { sayFinding } from '../../../session/say-finding'
import { Quiet } from '../../../ui/buttons'
import { LevelMark, VerdictMark } from '../../../ui/marks'
import { byLevel, useFindings } from '../../shared/session/findings'
import { RouteSteps } from '../../shared/naming/route-steps'
import { useNaming, useSessionState } from '../../shared/session/use-session'
import { useVerdict } from '../../shared/session/verdicts'
import { useWalk, useWalkFinding } from '../../shared/session/use-walk'
import { said } from '../../shared/said'

/** The bearing of the beat one is in: how one comes here, what can be true, what can still come. */
export function BearingPanel({ children }: { readonly children?: ReactNode }) {
  const beat = useSessionState((state) => state.beat)
  const bearing = useSessionState((state) => state.survey.bearing)
  const failure = useSessionState((state) => state.survey.bearingFailure)
  return (
    <Box as="aside" aria-label="Bearing of this beat" overflowY="auto" px="4" py="4" fontSize="sm" tabIndex={-1}>
      {beat === undefined ? (
        <Text color="faded">Choose a beat to see how one comes to it and what can be true there.</Text>
      ) : (
        <>
          <Title beat={beat} />
          <BeatFindings beat={beat} />
          {children}
          {bearing?.address === beat ? (
            <Box data-bearing="">
              <Body bearing={bearing} />
            </Box>
          ) : (
            <>
              {failure === undefined ? <Text color="faded">Taking the bearing …</Text> : <NoAnswer message={failure} />}
            </>
          )}
        </>
      )}
    </Box>
  )
}

function Title({ beat }: { beat: string }) {
  const name = useSessionState(({ story }) => beatName(story, beat))
  const verdict = useVerdict(beat)
  const { id } = useParams<{ id: string }>()
  const isAtlas = usePathname().endsWith('/atlas')
  return (
    <Flex align="center" gap="2" mb="3">
      <VerdictMark verdict={verdict} />
      <Heading as="h2" fontFamily="story" fontSize="md" fontWeight={600}>
        {name}
      </Heading>
      {!isAtlas && (
        <Quiet asChild ml="auto" fontSize="xs" title="Show this beat on the Atlas">
          <Link href={`/story/${id}/atlas?near=1#${beat}`}>on the Atlas</Link>
        </Quiet>
      )}
    </Flex>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box mt="4">
      <Heading as="h3" fontSize="sm" fontWeight={600} color="faded" mb="1">
        {title}
      </Heading>
      {children}
    </Box>
  )
}

function BeatFindings({ beat }: { beat: string }) {
  const all = useFindings()
  const findings = byLevel(findingsOfBeat(all, beat))
  if (findings.length === 0) return null
  return (
    <Box mb="3">
      {findings.map((finding) => (
        <FindingLine key={nameOfFinding(finding)} finding={finding} />
      ))}
    </Box>
  )
}

function FindingLine({ finding }: { finding: Finding }) {
  const walk = useWalkFinding()
  const story = useSessionState((state) => state.story)
  return (
    <Flex gap="2" mt="1" align="baseline">
      <LevelMark level={finding.level} />
      <Box>
        <Text as="span" title={finding.message}>
          {sayFinding(story, finding)}
        </Text>
        {finding.decisions !== undefined && finding.decisions > 0 && (
          <Quiet color="needle" onClick={() => walk(finding)}>
            walk it
          </Quiet>
        )}
      </Box>
    </Flex>
  )
}

function WalkIt({ route }: { route: readonly RouteItem[] }) {
  const walk = useWalk()
  return (
    <Quiet color="needle" onClick={() => walk(route)}>
      walk it
    </Quiet>
  )
}

const Body = memo(function Body({ bearing }: { bearing: Bearing }) {
  const { story } = useNaming()
  if (bearing.reached === undefined) {
    return (
      <Text color="faded">
        {bearing.exact
          ? 'No route comes here, so nothing can be said of what is true here.'
          : 'Not reached so far; the survey was cut short.'}
      </Text>
    )
  }
  const { route, decisions } = bearing.reached
  return (
    <>
      <Part
        title={`Shortest route here: ${decisions === 0 ? 'the story begins so' : `${said(decisions, 'decision')}`}`}
      >
        {route.length > 0 && (
          <>
            <RouteSteps route={route} />
            <WalkIt route={route} />
          </>
        )}
      </Part>
      <Part title="What can be true here">
        <Values bearing={bearing} />
        {!bearing.exact && <Text color="ochre">The survey was cut short: more may be possible.</Text>}
      </Part>
      <Part title="Endings from here">
        {(story.endings ?? []).map(({ id, name }) => (
          <EndingLine key={id} name={name} share={bearing.endings[id]} />
        ))}
        {(story.endings ?? []).length === 0 && <Text color="faded">The story has no endings yet.</Text>}
      </Part>
    </>
  )
})

/** What a beat itself names comes first; where much more is remembered than can be read at a glance, the rest is folded. */
function Values({ bearing }: { bearing: Bearing }) {
  const { story } = useNaming()
  const [unfolded, setUnfolded] = useState(false)
  const followed = bearing.values.filter(
    (one) => one.isGiven === true || (one.values !== undefined && (one.values.length > 0 || one.anyWord === true)),
  )
  const others =
    bearing.values.length - bearing.values.filter((one) => one.values !== undefined || one.isGiven === true).length
  const many = followed.length > GLANCE_MAX
  const beat = useSessionState((state) => (many ? beatAt(state.story, bearing.address) : undefined))
  const names = beat && namesIn(beat)
  if (followed.length === 0) return <Text color="faded">Nothing that is remembered matters from here on.</Text>
  const isNamed = ({ of, id }: EntryValues) =>
    names !== undefined && (of === 'quest' ? names.quests : names.entries).has(id)
  const near = many ? followed.filter(isNamed) : followed
  const far = many ? followed.filter((one) => !isNamed(one)) : []
  const line = (one: EntryValues) => (
    <ValueLine
      key={`${one.of} ${one.id}`}
      value={one}
      name={one.of === 'quest' ? storyNames(story).quest(one.id) : storyNames(story).entry(one.id)}
    />
  )
  return (
    <Box css={VALUES_STYLE}>
      {near.map(line)}
      {far.length > 0 && (
        <Quiet px="0" aria-expanded={unfolded} onClick={() => setUnfolded(!unfolded)}>
          {unfolded ? '–' : '+'} {near.length === 0 ? '' : 'and '}
          {far.length} that later beats ask for
        </Quiet>
      )}
      {unfolded && far.map(line)}
      {others > 0 && (
        <Text color="faded" mt="1">
          {others} more {others === 1 ? 'entry is' : 'entries are'} not asked for from here on.
        </Text>
      )}
    </Box>
  )
}

/** So many values are read at a glance. */
const GLANCE_MAX = 40

/** Set once for all lines: there can be hundreds. */
const VALUES_STYLE = {
  // in one line where both fit, else in two
  '& .value': { display: 'flex', flexWrap: 'wrap', columnGap: '0.5rem' },
  '& .value > :first-of-type': { flex: 'none', maxWidth: '100%' },
  '& .value > :last-child': { flex: '1 0 auto', maxWidth: '100%', color: 'faded', textAlign: 'right' },
}

function ValueLine({ value, name }: { value: EntryValues; name: string }) {
  const { story } = useNaming()
  const meanings = value.of === 'entry' ? meaningsOf(story, value.id) : undefined
  const say = (one: boolean | number | string): string =>
    value.of === 'quest' ? storyNames(story).stage(value.id, String(one)) : sayValue(one)
  return (
    <p className="value">
      <span>{name}</span>
      <span title={meanings}>
        {value.isGiven === true
          ? 'any: the game gives it'
          : [
              ...(value.values?.length ? [sayValues(value.values, say)] : []),
              ...(value.anyWord ? ['any word'] : []),
            ].join(', ')}
      </span>
    </p>
  )
}

/** What the positions of a switch stand for, in one sentence; undefined where nobody has said. */
function meaningsOf(story: Story, id: string): string | undefined {
  const entry = [...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])].find(
    (one) => one.id === id,
  )
  if (entry?.kind !== 'switch' || entry.meanings === undefined) return undefined
  return Object.entries(entry.meanings)
    .map(([position, meaning]) => `${plainId(position)}: ${meaning}`)
    .join('; ')
}

const LISTED_MAX = 6

/** A set of values in few words: a range where it is one, "anything else" for words nobody names. */
function sayValues(
  values: readonly (boolean | number | string)[],
  say: (value: boolean | number | string) => string,
): string {
  if (values.every((value) => typeof value === 'number')) {
    const numbers = [...values] as number[]
    const whole = numbers.length > 2 && numbers.at(-1)! - numbers[0]! === numbers.length - 1
    if (whole) return `${numbers[0]} to ${numbers.at(-1)}`
  }
  const said = values.map(say)
  return said.length > LISTED_MAX ? `${said.slice(0, LISTED_MAX).join(', ')} … (${said.length})` : said.join(', ')
}

const SHARES: Readonly<Record<Share, string>> = { all: 'in every case', some: 'in some', none: 'lost' }

function EndingLine({ name, share }: { name: string; share: Share | undefined }) {
  return (
    <Flex gap="2" align="baseline" justify="space-between">
      <Text textDecoration={share === 'none' ? 'line-through' : undefined} color={share === 'none' ? 'faded' : 'ink'}>
        {name}
      </Text>
      <Text color={share === 'all' ? 'kept' : share === 'some' ? 'ochre' : 'faded'} textAlign="right">
        {share === undefined ? '' : SHARES[share]}
      </Text>
    </Flex>
  )
}
