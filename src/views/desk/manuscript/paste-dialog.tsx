'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo } from 'react'
import {
  nameTyped,
  newSpeakers,
  pasteScript,
  personNamed,
  readScript,
  type ScriptPart,
} from '../../../core/story/reshape/script-paste'
import type { Story } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { Main, Plain, Quiet } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { focusRow } from '../../shared/session/focus-row'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { editBeat, updateLine, type BeatRef } from './edit-beat'

/** So many parts are shown; a long script is not read here. */
const SHOWN = 200

/** A pasted script as it is understood, before it goes in. */
export function PasteDialog({
  beat,
  at,
  text,
  onClose,
}: {
  beat: BeatRef
  at: number
  text: string
  onClose: () => void
}) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const parts = useMemo(() => readScript(text), [text])
  const made = newSpeakers(story, parts)
  const put = () => {
    const pasted = pasteScript(session.getState().story, { scene: beat.scene, beat: beat.id, at }, parts, newLine)
    onClose()
    if (pasted === undefined || session.edit(pasted.change) !== undefined) return
    session.goTo(pasted.last.split('#')[0])
    focusRow(pasted.last)
  }
  const putAsOne = () => {
    onClose()
    editBeat(session, beat, (now) =>
      updateLine(now, { at }, (line) => ({ ...line, text: line.text === '' ? text : `${line.text}\n${text}` })),
    )
    focusRow(`${beat.scene}.${beat.id}#line${at + 1}`)
  }
  const count = (of: ScriptPart['of']) => parts.filter((part) => part.of === of).length
  return (
    <Dialog title="This is how it is understood" onClose={onClose} wide>
      <Text color="faded">
        {[
          said(count('line'), 'line'),
          said(count('choice'), 'choice'),
          said(count('beat'), 'new beat'),
          made.length === 0 ? undefined : `${said(made.length, 'new speaker')}: ${made.join(', ')}`,
        ]
          .filter((one) => one !== undefined)
          .join(' · ')}
      </Text>
      <Box overflowY="auto" fontFamily="story" tabIndex={0} role="group" aria-label="What goes in" data-preview="">
        {parts.slice(0, SHOWN).map((part, index) => (
          <PartView key={index} story={story} part={part} />
        ))}
        {parts.length > SHOWN && <Text color="faded">and {parts.length - SHOWN} more</Text>}
      </Box>
      <Flex gap="3" align="center">
        <Main data-first="" onClick={put}>
          Put it in
        </Main>
        <Plain onClick={putAsOne}>All in one line</Plain>
        <Quiet onClick={onClose}>Leave it</Quiet>
      </Flex>
    </Dialog>
  )
}

function said(count: number, one: string): string | undefined {
  return count === 0 ? undefined : `${count} ${one}${count === 1 ? '' : 's'}`
}

function PartView({ story, part }: { story: Story; part: ScriptPart }) {
  if (part.of === 'beat')
    return (
      <Text fontWeight={600} mt="3" borderTop="1px solid" borderColor="hairline" pt="1">
        {part.title}
      </Text>
    )
  if (part.of === 'choice')
    return (
      <Text pl="6">
        <Box as="span" color="faded" fontFamily="body" fontSize="sm">
          the player may answer{' '}
        </Box>
        {part.text}
      </Text>
    )
  const id = part.speaker === undefined ? undefined : personNamed(story, part.speaker)
  const name = part.speaker && (story.cast?.find((person) => person.id === id)?.name ?? nameTyped(part.speaker))
  return (
    <Text whiteSpace="pre-wrap" fontStyle={part.isAction ? 'italic' : undefined}>
      {name !== undefined && (
        <Box as="span" fontFamily="body" fontSize="sm" fontWeight={600}>
          {name}
          {part.isAction ? ' (action)' : ''}:{' '}
        </Box>
      )}
      {part.text}
    </Text>
  )
}
