'use client'

import { Flex } from '@chakra-ui/react'
import { useMemo } from 'react'
import { pasteScript, readScript } from '../../../core/story/reshape/script-paste'
import { newLine } from '../../../session/new-line'
import { Main, Plain, Quiet } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { focusRow } from '../../shared/session/focus-row'
import { ScriptPreview } from '../../shared/script-preview'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { editBeat, updateLine, type BeatRef } from './edit-beat'

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
  return (
    <Dialog title="This is how it is understood" onClose={onClose} wide>
      <ScriptPreview story={story} parts={parts} />
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
