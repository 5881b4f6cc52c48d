'use client'

import { Box, Heading, Text } from '@chakra-ui/react'
import { useParams, useRouter } from 'next/navigation'
import { useEffect, useMemo, useState } from 'react'
import type { Result } from '../../core/base/result'
import { replay } from '../../core/play/replay'
import { saveOf } from '../../core/play/save'
import { playThrough } from '../../core/play/transcript'
import { linkStory } from '../../core/story/link'
import type { Story } from '../../core/story/types'
import { CARRIED_KINDS, type Carried, type CarriedFinding } from '../../core/survey/carry/carried'
import { itemName, sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { sayDecision } from '../shared/naming/route-steps'
import { askUntilLeft } from '../shared/session/ask-until-left'
import { useSession } from '../shared/session/use-session'

/** What happens to players who are in the middle when one version takes the place of the other. */
export function InTheMiddle({ before, after, isNow }: { before: Story; after: Story; isNow: boolean }) {
  const session = useSession()
  const [carried, setCarried] = useState<Result<Carried>>()
  useEffect(() => askUntilLeft(session, 'carry', { before, after }, setCarried), [session, before, after])
  return (
    <Box as="section" aria-label="Players in the middle">
      <Heading as="h3" fontSize="md" fontWeight={600} mt="5">
        Players who are in the middle
      </Heading>
      <Box data-carried={carried === undefined ? 'asking' : 'told'}>
        {carried === undefined && <Text color="faded">Loading every save that a player can have …</Text>}
        {carried?.ok === false && <Text color="needle">This could not be told: {carried.error}.</Text>}
        {carried?.ok && carried.value.findings.length === 0 && (
          <Text color="faded">
            {carried.value.complete
              ? 'Nothing happens to them: whoever loads a save goes on as before.'
              : 'Nothing was found as far as was looked.'}
          </Text>
        )}
        {carried?.ok &&
          carried.value.findings.map((finding) => (
            <Row key={JSON.stringify([finding.kind, ...finding.key])} {...{ before, after, isNow, finding }} />
          ))}
        {carried?.ok && !carried.value.complete && (
          <Text color="faded">There was not time enough to look at every save, so there may be more.</Text>
        )}
      </Box>
    </Box>
  )
}

function Row({
  before,
  after,
  isNow,
  finding,
}: {
  before: Story
  after: Story
  isNow: boolean
  finding: CarriedFinding
}) {
  const session = useSession()
  const router = useRouter()
  const { id } = useParams<{ id: string }>()
  const [open, setOpen] = useState(false)
  const { kind, level, key, route } = finding
  const goOn = () => {
    const old = linkStory(before)
    const save = saveOf(old, replay(old, route).state)
    if (save === undefined) return
    session.rehearse([], save)
    router.push(`/story/${id}/rehearse`)
  }
  return (
    <Box py="1.5" borderBottom="1px solid" borderColor="hairline" data-carried-finding={`${kind} ${key.join(' ')}`}>
      <Text>
        <Text as="span" fontWeight={600} color={level === 'error' ? 'needle' : level === 'warning' ? 'ochre' : 'faded'}>
          {CARRIED_KINDS[kind].name}
        </Text>{' '}
        {sayWhere(before, after, finding)}: {CARRIED_KINDS[kind].meaning}
      </Text>
      <Text color="faded" fontSize="sm">
        {mendOf(finding)}
      </Text>
      <Quiet px="0" color="needle" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'put it away' : 'walk it in the old version'}
      </Quiet>{' '}
      {isNow && (
        <Quiet color="needle" onClick={goOn}>
          go on in the new one
        </Quiet>
      )}
      {open && <Walked story={before} finding={finding} />}
    </Box>
  )
}

function sayWhere(before: Story, after: Story, { kind, key }: CarriedFinding): string {
  if (kind === 'carried-stranded') return itemName(after, 'stages', key.join('.'))
  return kind === 'carried-stage-lost' ? itemName(before, 'stages', key.join('.')) : `saved at ${sayAddress(key[0]!)}`
}

/** What would settle it. */
function mendOf({ kind, key }: CarriedFinding): string {
  switch (kind) {
    case 'carried-dead-end':
    case 'carried-no-way-out':
      return `A road from ${sayAddress(key[0]!)} that is open to who comes from the old version would settle it.`
    case 'carried-endless':
      return `A gate on one of the roads onward from ${sayAddress(key[0]!)} would let the story rest.`
    case 'carried-stranded':
      return `A way to an outcome of “${key[0]}” that stays open at this stage would settle it.`
    case 'carried-stage-lost':
      return `Renaming the stage instead of taking it away keeps it in saves only under its old id: give a stage of “${key[0]}” the id “${key[1]}” again.`
    case 'carried-moved':
      return `A beat with the id of ${sayAddress(key[0]!)}, if only with a road onward, would let them go on from there.`
  }
}

/** The route as it plays in the old version. */
function Walked({ story, finding }: { story: Story; finding: CarriedFinding }) {
  const transcript = useMemo(() => playThrough(linkStory(story), finding.route), [story, finding])
  return (
    <Box fontFamily="story" pl="4" py="2" maxH="22rem" overflowY="auto" data-walked="">
      {transcript.steps.map((step, at) => (
        <Box key={at}>
          {step.decision !== undefined && (
            <Text fontStyle="italic" color="needle" pl="4">
              {sayDecision(story, step.decision)}
            </Text>
          )}
          {step.lines.map((line, index) => (
            <Text key={index}>
              {line.name === undefined ? '' : `${line.name}: `}
              {line.text}
            </Text>
          ))}
        </Box>
      ))}
    </Box>
  )
}
