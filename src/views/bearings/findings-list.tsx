'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { freshId } from '../../core/base/ids'
import {
  FINDING_KINDS,
  nameOfFinding,
  type Finding,
  type FindingKind,
  type Level,
} from '../../core/survey/findings/finding'
import type { SetAside } from '../../core/story/types'
import { sayAddress } from '../../session/names'
import { Main, Plain, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { LevelMark } from '../../ui/marks'
import { isAbout } from '../../core/survey/findings/set-aside'
import { byLevel, LEVELS, useFindings } from '../shared/session/findings'
import { useGrowing } from '../../ui/use-growing'
import { useSession, useSessionState } from '../shared/session/use-session'
import { FindingRow } from './finding-row'
import { EditQuiet } from '../shared/fields/edits'

/** Each mend that is offered was tried by a survey of its own: none is among more findings than this, or in a larger story. */
const MENDS_MAX = 60
const MENDS_STATES = 100_000
const MENDS_BEATS = 2000
/** A story that is only begun can have thousands; they are drawn so many at a time. */
const SHOWN = 120

const PLURALS: Readonly<Record<Level, string>> = { error: 'errors', warning: 'warnings', note: 'notes' }

/** What is wrong or worth a look, by level and kind; what was looked at and is meant so can be set aside, with the reason. */
export function Findings() {
  const findings = useFindings()
  const isSmall = useSessionState(({ survey: { report } }) => {
    if (report === undefined) return false
    const { states, transitions } = report.figures
    return Math.max(states, transitions) < MENDS_STATES && report.beats < MENDS_BEATS
  })
  const setAside = useSessionState((state) => state.story.setAside) ?? []
  const [hidden, setHidden] = useState<ReadonlySet<Level>>(new Set())
  const [kind, setKind] = useState<FindingKind>()
  const [putting, setPutting] = useState<Finding>()
  const [showAside, setShowAside] = useState(false)
  const kinds = useMemo(() => [...new Set(byLevel(findings).map((finding) => finding.kind))], [findings])
  // the last finding of the kind that was looked at may be mended
  const only = kind !== undefined && kinds.includes(kind) ? kind : undefined
  const shown = byLevel(findings).filter(
    (finding) => !hidden.has(finding.level) && (only === undefined || finding.kind === only),
  )
  const { shown: drawn, end } = useGrowing(shown.length, SHOWN)
  const toggle = (level: Level) => {
    const next = new Set(hidden)
    if (!next.delete(level)) next.add(level)
    setHidden(next)
  }
  return (
    <Box as="section" mt="7" aria-label="Findings">
      <Flex align="center" gap="4" mb="2" wrap="wrap">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Findings
        </Heading>
        {LEVELS.map((level) => (
          <Quiet
            key={level}
            aria-pressed={!hidden.has(level)}
            onClick={() => toggle(level)}
            opacity={hidden.has(level) ? 0.75 : 1}
            textDecoration={hidden.has(level) ? 'line-through' : undefined}
          >
            <Flex as="span" align="center" gap="1.5">
              <LevelMark level={level} />
              {findings.filter((finding) => finding.level === level).length} {PLURALS[level]}
            </Flex>
          </Quiet>
        ))}
        {kinds.length > 1 && (
          <select
            className="field"
            aria-label="Kind of finding"
            value={only ?? ''}
            onChange={(event) => setKind(kinds.find((one) => one === event.target.value))}
          >
            <option value="">of every kind</option>
            {kinds.map((one) => (
              <option key={one} value={one}>
                {FINDING_KINDS[one].name} ({findings.filter((finding) => finding.kind === one).length})
              </option>
            ))}
          </select>
        )}
        {setAside.length > 0 && (
          <Quiet aria-expanded={showAside} onClick={() => setShowAside(!showAside)}>
            {setAside.length} set aside
          </Quiet>
        )}
      </Flex>
      {findings.length === 0 && (
        <Text color="kept">Nothing is wrong: everything that was written is reached, and nothing gets stuck.</Text>
      )}
      {shown.slice(0, drawn).map((finding) => (
        <FindingRow
          key={nameOfFinding(finding)}
          finding={finding}
          mends={isSmall && findings.length <= MENDS_MAX}
          onSetAside={() => setPutting(finding)}
        />
      ))}
      {end}
      {showAside && setAside.map((one, at) => <AsideRow key={one.id} one={one} at={at} />)}
      {putting !== undefined && <PutAside finding={putting} onClose={() => setPutting(undefined)} />}
    </Box>
  )
}

function AsideRow({ one, at }: { one: SetAside; at: number }) {
  const session = useSession()
  const isFound = useSessionState((state) =>
    (state.survey.report?.findings ?? []).some((finding) => isAbout(one, finding)),
  )
  const name =
    (FINDING_KINDS as Readonly<Record<string, { readonly name: string } | undefined>>)[one.kind]?.name ?? one.kind
  return (
    <Flex
      gap="3"
      py="1.5"
      align="baseline"
      borderBottom="1px dashed"
      borderColor="hairline"
      color="faded"
      data-aside={`${one.kind} ${one.about.join(' ')}`}
    >
      <Box flex="1" minW="0">
        <Text>
          {name} {one.about.map((about) => sayAddress(about)).join(', ')}
          {isFound ? '' : ' (not found any more)'}
        </Text>
        <Text fontFamily="story" color="ink">
          {one.reason}
        </Text>
      </Box>
      <EditQuiet
        aria-label={`Bring back: ${name} ${one.about[0] ?? ''}`}
        onClick={() => session.edit({ op: 'remove', in: { list: 'setAside' }, id: one.id, at })}
      >
        {isFound ? 'bring back' : 'forget'}
      </EditQuiet>
    </Flex>
  )
}

/** Asks for the reason, which stays with the story. */
function PutAside({ finding, onClose }: { finding: Finding; onClose: () => void }) {
  const session = useSession()
  const [reason, setReason] = useState('')
  const put = () => {
    const list = session.getState().story.setAside ?? []
    const id = freshId('aside', (taken) => list.some((one) => one.id === taken))
    session.edit({
      op: 'insert',
      in: { list: 'setAside' },
      at: list.length,
      item: { id, kind: finding.kind, about: [...finding.key], reason: reason.trim() },
    })
    onClose()
  }
  return (
    <Dialog title="Set this finding aside" onClose={onClose}>
      <Text>
        {FINDING_KINDS[finding.kind].name}: {finding.message}.
      </Text>
      <Text color="faded">
        It is not listed or counted any more on these pages until you bring it back. The command line still tells it.
      </Text>
      <Box asChild className="field" w="100%">
        <input
          autoFocus
          aria-label="Why it is meant so"
          placeholder="Why it is meant so"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && reason.trim() !== '' && put()}
        />
      </Box>
      <Flex gap="2">
        <Main disabled={reason.trim() === ''} onClick={put}>
          Set it aside
        </Main>
        <Plain onClick={onClose}>Cancel</Plain>
      </Flex>
    </Dialog>
  )
}
