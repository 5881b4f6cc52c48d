'use client'

import { plainId } from '../../../core/base/ids'
import { useState } from 'react'
import type { Beat } from '../../../core/story/types'
import { useThings } from '../../shared/naming/things'
import { useSession, useSessionState, useMayWrite } from '../../shared/session/use-session'
import { Bare } from '../../../ui/bare'
import { MoreMenu } from '../../../ui/more-menu'
import { mayChoose, withKeys } from '../../../core/story/reshape/beat-edits'
import { editBeat, type BeatRef } from './edit-beat'
import { EndingField } from './ending-field'
import {
  addArrival,
  addBeatAfter,
  addChoice,
  addLine,
  addOnward,
  addRedirect,
  addTurns,
  addVariants,
} from '../outline/structure'

/** What can be added to a beat, and done with it. */
export function BeatTools({ beatRef, beat }: { beatRef: BeatRef; beat: Beat }) {
  const session = useSession()
  const [naming, setNaming] = useState(false)
  const isStart = useSessionState((state) => state.story.start === `${beatRef.scene}.${beat.id}`)
  const open = beat.ending === undefined
  const mayEnd = beat.choices === undefined && beat.ask === undefined && beat.onward === undefined
  const shown = beat.title ?? plainId(beat.id)
  const things = useThings()
  if (!useMayWrite()) return null
  return (
    <div className="beat-tools" role="group" aria-label={`Add to ${shown}`}>
      <Tool onClick={() => addLine(session, beatRef)} keys="Enter in a line">
        + line
      </Tool>
      {mayChoose(beat) && (
        <Tool onClick={() => addChoice(session, beatRef)} keys="Ctrl+Enter">
          + choice
        </Tool>
      )}
      {open && <Tool onClick={() => addOnward(session, beatRef)}>+ goes on</Tool>}
      {open && mayEnd && !naming && <Tool onClick={() => setNaming(true)}>+ ending</Tool>}
      {naming && <EndingField beat={beatRef} ending={undefined} onDone={() => setNaming(false)} />}
      <Tool onClick={() => addBeatAfter(session, beatRef)} keys="Ctrl+Shift+Enter">
        + beat
      </Tool>
      <MoreMenu
        className="add tool"
        label={`More for ${shown}`}
        text="more …"
        items={() => [
          {
            id: 'variants',
            text: 'variants',
            hint: 'one line or another, the first that holds',
            onPick: () => addVariants(session, beatRef),
          },
          {
            id: 'turns',
            text: 'lines in turn',
            hint: 'another each time',
            onPick: () => addTurns(session, beatRef),
          },
          ...(open && beat.choices === undefined && beat.ask === undefined
            ? [
                {
                  id: 'ask',
                  text: 'ask a word',
                  hint: 'the player types it',
                  onPick: () => editBeat(session, beatRef, (now) => ({ ...now, ask: { into: '', prompt: '' } })),
                },
              ]
            : []),
          {
            id: 'redirect',
            text: 'sent elsewhere',
            hint: 'before anything here plays',
            onPick: () => addRedirect(session, beatRef),
          },
          {
            id: 'arrival',
            text: 'on arrival',
            hint: 'changes whoever comes',
            onPick: () => addArrival(session, beatRef),
          },
          {
            id: 'place',
            text: beat.place ? 'players no longer return here' : 'players return here',
            hint: 'a place: where “return” leads',
            onPick: () => editBeat(session, beatRef, (now) => withKeys(now, { place: now.place ? undefined : true })),
          },
          ...(isStart
            ? []
            : [
                {
                  id: 'start',
                  text: 'begin here',
                  hint: 'the story begins with this beat',
                  onPick: () => session.edit({ op: 'set-story', values: { start: `${beatRef.scene}.${beat.id}` } }),
                },
              ]),
          {
            id: 'delete',
            text: 'delete beat',
            onPick: () => things.remove({ of: 'beat', scene: beatRef.scene, id: beat.id }),
          },
        ]}
      />
    </div>
  )
}

function Tool({ onClick, keys, children }: { onClick: () => void; keys?: string; children: string }) {
  return (
    <Bare className="add tool" title={keys} onClick={onClick}>
      {children}
    </Bare>
  )
}
