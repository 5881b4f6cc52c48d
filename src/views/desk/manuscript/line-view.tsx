'use client'

import { useState, type KeyboardEvent } from 'react'
import { freshId, idFrom } from '../../../core/base/ids'
import type { Manner, Person, PlainLine } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { Quiet } from '../../../ui/buttons'
import { PersonMark } from '../../shared/fields/person-mark'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { Bare } from '../../../ui/bare'
import { listOrNone, speakerTyped, withKeys } from '../../../core/story/reshape/beat-edits'
import {
  editBeat,
  fieldOf,
  focusSoon,
  insertLineAfter,
  lineName,
  moveLine,
  nextPath,
  removeLine,
  updateLine,
  type BeatRef,
  type LinePath,
} from './edit-beat'
import { CueSigns, isCueKey } from './cue-signs'
import { Margin } from './margin'
import { addBeatAfter, addChoice, addVariantAt, splitAt, takeTurns } from '../outline/structure'
import { StoryText } from './story-text'

const MANNERS: readonly Manner[] = ['speech', 'action', 'thought', 'narration']

interface Props {
  readonly beat: BeatRef
  readonly path: LinePath
  readonly line: PlainLine
}

/** One line: who speaks and how, and the text, edited in place. */
export function LineView({ beat, path, line }: Props) {
  const session = useSession()
  const name = lineName(path)
  const field = fieldOf(beat, `#${name}`)
  const manner = line.manner ?? (line.speaker === undefined ? 'narration' : 'speech')
  const update = (make: (line: PlainLine) => PlainLine) => editBeat(session, beat, (now) => updateLine(now, path, make))
  const person = useSessionState(({ story }) =>
    line.speaker === undefined ? undefined : story.cast?.find(({ id }) => id === line.speaker),
  )

  const [cueing, setCueing] = useState(false)
  const press = (event: KeyboardEvent<HTMLTextAreaElement>, text: string) => {
    if (isCueKey(event)) {
      event.preventDefault()
      setCueing(true)
    } else if (event.key === 'Enter' && event.altKey && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      queueMicrotask(() => addVariantAt(session, beat, path))
    } else if (event.key === 'Enter' && event.altKey) {
      event.preventDefault()
      queueMicrotask(() => splitAt(session, beat, path.at))
    } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      if (event.shiftKey) addBeatAfter(session, beat)
      else addChoice(session, beat)
    } else if (event.key === 'Enter' && !event.shiftKey) {
      event.preventDefault()
      // after the draft has become an edit
      queueMicrotask(() => {
        editBeat(session, beat, (now) => insertLineAfter(now, path, newLine()))
        focusSoon(fieldOf(beat, `#${lineName(nextPath(path, 1))}`))
      })
    } else if (event.key === 'Backspace' && text === '') {
      event.preventDefault()
      queueMicrotask(() => {
        if (line.speaker !== undefined) update((now) => withKeys(now, { speaker: undefined, manner: undefined }))
        else {
          editBeat(session, beat, (now) => removeLine(now, path))
          const at = path.line ?? path.at
          focusSoon(fieldOf(beat, `#${lineName(nextPath(path, at > 0 ? -1 : 0))}`))
        }
      })
    } else if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault()
      const by = event.key === 'ArrowUp' ? -1 : 1
      queueMicrotask(() => {
        editBeat(session, beat, (now) => moveLine(now, path, by))
        focusSoon(fieldOf(beat, `#${lineName(nextPath(path, by))}`))
      })
    }
  }
  const type = (text: string): boolean => {
    const said = line.speaker === undefined ? speakerTyped(session.getState().story, text) : undefined
    if (said === undefined) return false
    update((now) => withKeys(now, { speaker: said.speaker, text: said.text, manner: undefined }))
    focusSoon(field)
    return true
  }
  const switchManner = (
    <MannerSwitch
      manner={manner}
      speaks={line.speaker !== undefined}
      onChange={(next) => update((now) => withKeys(now, { manner: next }))}
    />
  )
  return (
    <div className={`row line ${manner}`}>
      <div>
        {line.speaker !== undefined && (
          <div className="speaker">
            <Quiet
              px="0"
              color="inherit"
              title="Nobody speaks"
              aria-label={`${person?.name ?? line.speaker} speaks; take the speaker away`}
              onClick={() => update((now) => withKeys(now, { speaker: undefined }))}
            >
              <PersonMark person={person} />
              <span className={person === undefined ? 'broken' : undefined}>{person?.name ?? line.speaker}</span>
              {person?.called !== undefined && (
                <span className="small" title={sayCalled(person)}>
                  {'\u00a0 '}
                  or “{person.called[0]!.name}”
                </span>
              )}
            </Quiet>
            {switchManner}
          </div>
        )}
        <div className={line.speaker === undefined ? undefined : 'spoken'}>
          <StoryText
            scene={beat.scene}
            label={`${person === undefined ? 'Line' : `${person.name} says`} (${name.replaceAll('.', ' ')})`}
            field={field}
            value={line.text}
            placeholder={line.speaker === undefined ? 'What happens, or Name: what they say' : 'What they say'}
            onCommit={(text) => update((now) => ({ ...now, text }))}
            onKeyDown={press}
            onType={type}
          />
          {line.speaker === undefined && <NewSpeaker beat={beat} path={path} text={line.text} />}
        </div>
      </div>
      <Margin
        scene={beat.scene}
        when={line.when}
        effects={line.do}
        lead="only when"
        field={field}
        onWhen={(when) => update((now) => withKeys(now, { when }))}
        onEffects={(effects) => update((now) => withKeys(now, { do: listOrNone(effects ?? []) }))}
        notes={line.notes}
        onNotes={(notes) => update((now) => withKeys(now, { notes }))}
        adds={
          <>
            {line.speaker === undefined && manner === 'narration' && switchManner}
            <Bare data-field={`${field}+cue`} onClick={() => setCueing(true)}>
              + cue
            </Bare>
            {path.line === undefined && (
              <Quiet className="add" onClick={() => takeTurns(session, beat, path)}>
                take turns
              </Quiet>
            )}
          </>
        }
      >
        {line.speaker === undefined && manner !== 'narration' && switchManner}
        {(line.cues !== undefined || cueing) && (
          <CueSigns
            cues={line.cues}
            field={field}
            isAdding={cueing}
            onAdding={setCueing}
            onChange={(cues) => update((now) => withKeys(now, { cues: listOrNone(cues) }))}
          />
        )}
      </Margin>
    </div>
  )
}

/** Under which names a person may be shown here. */
function sayCalled({ name, called = [] }: Person): string {
  return `Until the player knows better: ${called.map((one) => `“${one.name}” as long as ${one.when}`).join(', or ')}; then ${name}`
}

/** "Tamsin: …" by somebody who is not in the cast yet: one press makes her the speaker. */
function NewSpeaker({ beat, path, text }: { beat: BeatRef; path: LinePath; text: string }) {
  const session = useSession()
  const match = /^(\p{Lu}[^:\n]{0,30}):\s*/u.exec(text)
  if (match === null) return null
  const name = match[1]!.trim()
  const add = () => {
    const { cast } = session.getState().story
    const id = freshId(
      idFrom(name.split(/\s+/)[0]!, 'person'),
      (taken) => cast?.some((person) => person.id === taken) ?? false,
    )
    session.edit({ op: 'insert', in: { list: 'cast' }, at: cast?.length ?? 0, item: { id, name } })
    editBeat(session, beat, (now) =>
      updateLine(now, path, (line) => ({ ...line, speaker: id, text: line.text.slice(match[0].length) })),
    )
  }
  return (
    <Quiet fontFamily="body" fontSize="sm" color="needle" onClick={add}>
      {name} is not in the cast: make {name} the speaker
    </Quiet>
  )
}

function MannerSwitch({
  manner,
  speaks,
  onChange,
}: {
  manner: Manner
  speaks: boolean
  onChange: (manner: Manner | undefined) => void
}) {
  const next = MANNERS[(MANNERS.indexOf(manner) + 1) % MANNERS.length]!
  const usual: Manner = speaks ? 'speech' : 'narration'
  return (
    <Bare
      className={manner === usual ? 'flush manner add' : 'flush manner'}
      aria-label={`Manner: ${manner}; change to ${next}`}
      onClick={() => onChange(next === usual ? undefined : next)}
    >
      {manner}
    </Bare>
  )
}
