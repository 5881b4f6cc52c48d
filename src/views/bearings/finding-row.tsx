'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import type { Story } from '../../core/story/types'
import type { Mend } from '../../core/survey/questions/mends'
import { FINDING_KINDS, type Finding } from '../../core/survey/findings/finding'
import { sayAddress } from '../../session/names'
import { sayFinding } from '../../session/say-finding'
import { Quiet } from '../../ui/buttons'
import { LevelMark } from '../../ui/marks'
import { CommentMark } from '../shared/comments/comment-mark'
import { placeOfFinding } from '../shared/session/findings'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalkFinding } from '../shared/session/use-walk'
import { WhyNotPanel } from './why-not-panel'
import { EditQuiet } from '../shared/fields/edits'

/** One finding: what, where, the route that shows it, and why not. */
export function FindingRow({
  finding,
  mends,
  onSetAside,
}: {
  finding: Finding
  mends: boolean
  onSetAside: () => void
}) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const walk = useWalkFinding()
  const [asked, setAsked] = useState(false)
  const place = placeOfFinding(story, finding)
  const mend = useProvenMend(finding, story, mends)
  return (
    <Box
      py="1.5"
      borderBottom="1px solid"
      borderColor="hairline"
      data-finding={finding.kind}
      data-key={finding.key.join(' ')}
    >
      <Flex gap="3" align="baseline">
        <LevelMark level={finding.level} />
        <Box flex="1" minW="0">
          <Text fontFamily="story" title={finding.message}>
            {sayFinding(story, finding)}
          </Text>
          <Flex columnGap="3" wrap="wrap" align="baseline">
            <Text color="faded" fontSize="sm">
              {FINDING_KINDS[finding.kind].name}
              {place === undefined ? '' : ` · ${sayAddress(place.address, story)}`}
            </Text>
            {mend !== undefined && (
              // it comes later, and the rows below stay where they are
              <EditQuiet
                color="kept"
                fontSize="sm"
                my="-3px"
                data-mend=""
                title="The survey has shown that this settles it, and breaks nothing else"
                onClick={() => session.edit(mend.change)}
              >
                mend it: {mend.says}
              </EditQuiet>
            )}
          </Flex>
        </Box>
        <CommentMark
          topic={`finding ${finding.kind} ${finding.key.join(' ')}`}
          offer={FINDING_KINDS[finding.kind].name}
        />
        {finding.kind === 'unreached' && (
          <Quiet aria-expanded={asked} aria-label={`Why not: ${finding.key[0]}`} onClick={() => setAsked(!asked)}>
            why not
          </Quiet>
        )}
        {finding.decisions !== undefined && finding.decisions > 0 && (
          <Quiet
            color="needle"
            aria-label={`Walk it: ${FINDING_KINDS[finding.kind].name} ${finding.key[0]}`}
            onClick={() => walk(finding)}
          >
            walk it
          </Quiet>
        )}
        {place !== undefined && (
          <Quiet
            aria-label={`Go to it: ${FINDING_KINDS[finding.kind].name} ${finding.key[0]}`}
            onClick={() => goTo(place.address, place.part)}
          >
            go to it
          </Quiet>
        )}
        <EditQuiet
          aria-label={`Set aside: ${FINDING_KINDS[finding.kind].name} ${finding.key[0]}`}
          title="It is meant so: hide it, and keep the reason"
          onClick={onSetAside}
        >
          set aside
        </EditQuiet>
      </Flex>
      {asked && <WhyNotPanel address={finding.key[0]!} />}
    </Box>
  )
}

/**
 * A mend that is offered only once a survey of the mended story has shown that it settles the
 * finding and brings no error. It is made of the story as it is: with every edit it is worked out anew.
 */
function useProvenMend(finding: Finding, story: Story, wanted: boolean): Mend | undefined {
  const session = useSession()
  const [proven, setProven] = useState<{
    readonly of: Finding
    readonly story: Story
    readonly mend: Mend | undefined
  }>()
  useEffect(() => {
    let left = false
    if (wanted)
      void session.survey
        .ask('mend', { finding })
        .then((mend) => !left && setProven({ of: finding, story, mend: mend.ok ? mend.value : undefined }))
    return () => {
      left = true
    }
  }, [session, finding, story, wanted])
  return proven?.of === finding && proven.story === story ? proven.mend : undefined
}
