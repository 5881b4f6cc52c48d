'use client'

import { focusSoon } from '../../../ui/named-fields'
import { useState, type KeyboardEvent } from 'react'
import type { Manner, Person, PlainLine } from '../../../core/story/types'
import { newLine } from '../../../session/new-line'
import { Quiet } from '../../../ui/buttons'
import { PersonMark } from '../../shared/fields/person-mark'
import { EditBare, EditId } from '../../shared/fields/edits'
import { useSession, useSessionState } from '../../shared/session/use-session'
import type { Change } from '../../../core/story/changes/types'
import { listOrNone, replaceBeat, speakerTyped, withKeys } from '../../../core/story/reshape/beat-edits'
import { newPerson, peopleTyped } from '../../../core/story/reshape/people-typed'
import { joinLines, nextSpeaker, speakLines, splitLine } from '../../../core/story/reshape/script'
import {
  editBeat,
  fieldOf,
  insertLineAfter,
  lineAt,
  lineBefore,
  lineName,
  moveLine,
  nextPath,
  removeLine,
  updateLine,
  type BeatRef,
  type LinePath,
} from './edit-beat'
import { CueSigns, isCueKey } from './cue-signs'
import { Margin, type MarginHead } from './margin'
import { addBeatAfter, addChoice, addVariantAt, splitAt, takeTurns } from '../outline/structure'
import { textOf } from './clipboard-text'
import { PasteDialog } from './paste-dialog'
import { StoryText } from './story-text'

const MANNERS: readonly Manner[] = ['speech', 'action', 'thought', 'narration']

interface Props {
  readonly beat: BeatRef
  readonly path: LinePath
  readonly line: PlainLine
  /** Of the first line of a variant or turn. */
  readonly head?: MarginHead | undefined
}

/** One line: who speaks and how, and the text, edited in place. */
export function LineView({ beat, path, line, head }: Props) {
  const session = useSession()
  const name = lineName(path)
  const field = fieldOf(beat, `#${name}`)
  const usual: Manner = line.speaker === undefined ? 'narration' : 'speech'
  const manner = line.manner ?? usual
  const update = (make: (line: PlainLine) => PlainLine) => editBeat(session, beat, (now) => updateLine(now, path, make))
  const person = useSessionState(({ story }) =>
    line.speaker === undefined ? undefined : story.cast?.find(({ id }) => id === line.speaker),
  )

  const [cueing, setCueing] = useState(false)
  /** At the end a line in the same voice follows; in the middle the line is parted; an empty one goes to somebody else. */
  const enter = (text: string, from: number, to: number) => {
    if (text.trim() === '') {
      editBeat(session, beat, (now, story) => {
        const empty = lineAt(now, path)
        const speaker = empty && nextSpeaker(story, beat.scene, now, empty)
        return empty && updateLine(now, path, (one) => withKeys(one, { speaker, manner: undefined }))
      })
      return focusSoon(field)
    }
    editBeat(session, beat, (now) => {
      const whole = lineAt(now, path)
      if (whole === undefined) return undefined
      const [first, second] = splitLine(whole, from, to, newLine)
      return insertLineAfter(
        updateLine(now, path, () => first),
        path,
        second,
      )
    })
    focusSoon(fieldOf(beat, `#${lineName(nextPath(path, 1))}`), 0)
  }
  const join = () => {
    let caret: number | undefined
    editBeat(session, beat, (now) => {
      const [before, own] = [lineBefore(now, path), lineAt(now, path)]
      const joined = before && own && joinLines(before, own)
      if (joined === undefined) return undefined
      caret = joined.at
      return removeLine(
        updateLine(now, nextPath(path, -1), () => joined.line),
        path,
      )
    })
    if (caret !== undefined) focusSoon(fieldOf(beat, `#${lineName(nextPath(path, -1))}`), caret)
  }
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
      const { selectionStart: from, selectionEnd: to } = event.currentTarget
      // after the draft has become an edit
      queueMicrotask(() => enter(text, from, to))
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
    } else if (event.key === 'Backspace' && event.currentTarget.selectionEnd === 0) {
      if ((path.line ?? path.at) === 0) return
      event.preventDefault()
      queueMicrotask(join)
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
    // the blank after "Name:" belongs to neither
    if (line.speaker !== undefined && line.text === '' && text === ' ') return true
    const said = speakerTyped(session.getState().story, text)
    if (said === undefined || said.speaker === line.speaker) return false
    update((now) => withKeys(now, { speaker: said.speaker, text: said.text, manner: undefined }))
    focusSoon(field)
    return true
  }
  const [pasted, setPasted] = useState<{ readonly text: string; readonly html: string }>()
  /** Several lines are a script: they are shown as they are understood before they go in. */
  const paste = (clipboard: DataTransfer): boolean => {
    const text = textOf(clipboard)
    if (!/\S\s*\n\s*\S/.test(text)) return false
    setPasted({ text, html: clipboard.getData('text/html') })
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
            <EditId
              px="0"
              color="inherit"
              tabIndex={-1}
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
            </EditId>
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
            onPaste={paste}
          />
          {pasted !== undefined && (
            <PasteDialog beat={beat} path={path} {...pasted} onClose={() => setPasted(undefined)} />
          )}
          {line.speaker === undefined && <WhoSpeaks beat={beat} path={path} text={line.text} />}
        </div>
      </div>
      <Margin
        scene={beat.scene}
        when={line.when}
        effects={line.do}
        head={head}
        lead="only when"
        field={field}
        onWhen={(when) => update((now) => withKeys(now, { when }))}
        onEffects={(effects) => update((now) => withKeys(now, { do: listOrNone(effects ?? []) }))}
        notes={line.notes}
        onNotes={(notes) => update((now) => withKeys(now, { notes }))}
        adds={[
          ...MANNERS.filter(
            (one) => one !== manner && one !== (line.speaker === undefined ? 'speech' : 'narration'),
          ).map((one) => ({
            id: one,
            text: `as ${one}`,
            onPick: () => update((now) => withKeys(now, { manner: one === usual ? undefined : one })),
          })),
          { id: 'cue', text: 'cue', hint: 'Alt+C', onPick: () => setCueing(true) },
          ...(path.line === undefined
            ? [
                { id: 'turns', text: 'take turns', onPick: () => takeTurns(session, beat, path) },
                {
                  id: 'variant',
                  text: 'another variant',
                  hint: 'Ctrl+Alt+Enter',
                  onPick: () => addVariantAt(session, beat, path),
                },
              ]
            : []),
        ]}
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

/** "Tamsin: …" by somebody who is not in the cast yet, or by several who begin so: one press says who speaks. */
function WhoSpeaks({ beat, path, text }: { beat: BeatRef; path: LinePath; text: string }) {
  const session = useSession()
  const match = /^(\p{Lu}[^:\n,.;!?…]{0,30}):\s*/u.exec(text)
  if (match === null) return null
  const name = match[1]!.trim()
  const known = peopleTyped(session.getState().story, name)
  const speak = (speaker: string, names: readonly string[]) => {
    const { story } = session.getState()
    const changes: Change[] = []
    for (const scene of story.scenes)
      for (const [index, old] of scene.beats.entries()) {
        const spoken = speakLines(old, names, speaker)
        if (spoken !== old) changes.push(replaceBeat({ scene: scene.id, index, beat: old }, spoken))
      }
    return changes
  }
  const take = (changes: Change[]) => {
    session.edit(changes.length === 1 ? changes[0]! : { op: 'batch', changes })
    focusSoon(fieldOf(beat, `#${lineName(path)}`))
  }
  const add = () => {
    const { cast = [] } = session.getState().story
    const item = newPerson(cast, name)
    take([{ op: 'insert', in: { list: 'cast' }, at: cast.length, item }, ...speak(item.id, [name.toLowerCase()])])
  }
  return (
    <>
      {known.map((person) => (
        <Quiet key={person.id} onClick={() => take(speak(person.id, [name.toLowerCase()]))}>
          {person.name} speaks
        </Quiet>
      ))}
      <Quiet onClick={add}>Make {name} a speaker</Quiet>
    </>
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
    <EditBare
      className={manner === usual ? 'flush manner add' : 'flush manner'}
      aria-label={`Manner: ${manner}; change to ${next}`}
      onClick={() => onChange(next === usual ? undefined : next)}
    >
      {manner}
    </EditBare>
  )
}
