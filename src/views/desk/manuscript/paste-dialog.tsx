'use client'

import { Flex, Text } from '@chakra-ui/react'
import { useEffect, useEffectEvent, useMemo } from 'react'
import { beatAt } from '../../../core/story/beat-at'
import { replaceBeat } from '../../../core/story/reshape/beat-edits'
import { pasteScript, readScript, scriptLines } from '../../../core/story/reshape/script-paste'
import { newLine } from '../../../session/new-line'
import { Main, Plain, Quiet } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { focusRow } from '../../shared/session/focus-row'
import { ScriptPreview } from '../../shared/take-in/script-preview'
import { useManuscript } from '../../shared/take-in/use-manuscript'
import { useSession, useSessionState } from '../../shared/session/use-session'
import {
  editBeat,
  insertLineAfter,
  lineAt,
  lineName,
  nextPath,
  removeLine,
  updateLine,
  type BeatRef,
  type LinePath,
} from './edit-beat'

/** A pasted script as it is understood, before it goes in. */
export function PasteDialog({
  beat,
  path,
  text,
  html,
  onClose,
}: {
  beat: BeatRef
  path: LinePath
  text: string
  /** The same as a word processor or a browser has it, with headings and lists; "" where there is none. */
  html: string
  onClose: () => void
}) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { incoming, read } = useManuscript()
  const typed = useMemo(() => readScript(text), [text])
  const isMarked = /<(h[1-6]|li)\b/i.test(html)
  const readOnce = useEffectEvent(() => read(new File([html], 'what was pasted'), 'html'))
  useEffect(() => {
    if (isMarked) readOnce()
  }, [isMarked])
  const isReading = isMarked && (incoming === undefined || incoming.kind === 'reading')
  const parts = incoming?.kind === 'read' ? incoming.read.parts : typed
  /** Inside a variant or a turn nothing but lines can stand. */
  const putLines = () => {
    onClose()
    const { story: now } = session.getState()
    const { changes, lines } = scriptLines(now, parts, newLine)
    const index = now.scenes.find(({ id }) => id === beat.scene)?.beats.findIndex(({ id }) => id === beat.id) ?? -1
    const old = beatAt(now, `${beat.scene}.${beat.id}`)
    if (old === undefined || lines.length === 0) return
    let next = old
    lines.forEach((line, step) => (next = insertLineAfter(next, nextPath(path, step), line)))
    const isEmpty = lineAt(old, path)?.text.trim() === ''
    if (isEmpty) next = removeLine(next, path)
    const change = replaceBeat({ scene: beat.scene, index, beat: old }, next)
    if (session.edit({ op: 'batch', changes: [...changes, change] }) !== undefined) return
    focusRow(`${beat.scene}.${beat.id}#${lineName(nextPath(path, lines.length - (isEmpty ? 1 : 0)))}`)
  }
  const put = () => {
    if (path.line !== undefined) return putLines()
    const pasted = pasteScript(
      session.getState().story,
      { scene: beat.scene, beat: beat.id, at: path.at },
      parts,
      newLine,
    )
    onClose()
    if (pasted === undefined || session.edit(pasted.change) !== undefined) return
    session.goTo(pasted.last.split('#')[0])
    focusRow(pasted.last)
  }
  const putAsOne = () => {
    onClose()
    editBeat(session, beat, (now) =>
      updateLine(now, path, (line) => ({ ...line, text: line.text === '' ? text : `${line.text}\n${text}` })),
    )
    focusRow(`${beat.scene}.${beat.id}#${lineName(path)}`)
  }
  return (
    <Dialog title="This is how it is understood" onClose={onClose} wide>
      {isReading ? <Text role="status">Reading what was pasted …</Text> : <ScriptPreview story={story} parts={parts} />}
      <Flex gap="3" align="center">
        <Main data-first="" aria-disabled={isReading} onClick={() => !isReading && put()}>
          Put it in
        </Main>
        <Plain onClick={putAsOne}>All in one line</Plain>
        <Quiet onClick={onClose}>Leave it</Quiet>
      </Flex>
    </Dialog>
  )
}
