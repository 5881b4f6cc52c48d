'use client'

import { focusSoon } from '../../../ui/named-fields'
import { useState } from 'react'
import { freshId, plainId } from '../../../core/base/ids'
import { idFrom } from '../../../core/base/id-from'
import type { StorySession } from '../../../session/story-session'
import type { Ask } from '../../../core/story/types'
import { useMayWrite, useSession, useSessionState } from '../../shared/session/use-session'
import { DraftText } from '../../shared/fields/draft-text'
import { listOrNone, withKeys } from '../../../core/story/reshape/beat-edits'
import { MoreMenu, type MenuItem } from '../../../ui/more-menu'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { StoryText } from './story-text'
import { EditSelect } from '../../shared/fields/edits'

const MAKE = ' make'

/** Makes the text entry that keeps the word, called after the beat, and keeps it there. */
export function makeInto(session: StorySession, { scene, id }: BeatRef): void {
  const { story } = session.getState()
  const taken = new Set(
    [story.ledger, ...story.scenes.map(({ ledger }) => ledger)].flatMap((list) => list?.map((one) => one.id) ?? []),
  )
  const into = freshId(idFrom(`${id} word`, 'word'), (one) => taken.has(one))
  const beats = story.scenes.find((one) => one.id === scene)?.beats ?? []
  const at = beats.findIndex((one) => one.id === id)
  const beat = beats[at]
  if (beat?.ask === undefined) return
  session.edit({
    op: 'batch',
    changes: [
      { op: 'insert', in: { list: 'ledger' }, at: story.ledger?.length ?? 0, item: { id: into, kind: 'text' } },
      { op: 'replace', in: { list: 'beats', scene }, id, at, item: { ...beat, ask: { ...beat.ask, into } } },
    ],
  })
}

/** A word that the player types, and the text entry it goes into. */
export function AskView({ beat, ask }: { beat: BeatRef; ask: Ask }) {
  const session = useSession()
  const ledger = useSessionState((state) => state.story.ledger) ?? []
  const texts = ledger.filter(({ kind, given }) => kind === 'text' && given === undefined)
  const known = texts.some(({ id }) => id === ask.into)
  const update = (keys: Partial<Ask>) =>
    editBeat(session, beat, (now) => now.ask && { ...now, ask: withKeys(now.ask, keys) })
  const [adding, setAdding] = useState<'suggest' | 'default' | 'notes'>()
  const open = (part: 'suggest' | 'default' | 'notes') => () => {
    setAdding(part)
    focusSoon(fieldOf(beat, `:prompt?${part}`))
  }
  const items: MenuItem[] = [
    ...(ask.suggest === undefined ? [{ id: 'suggest', text: 'offered words', onPick: open('suggest') }] : []),
    ...(ask.default === undefined
      ? [{ id: 'default', text: 'an empty answer', hint: 'what it stands for', onPick: open('default') }]
      : []),
    ...(ask.notes === undefined ? [{ id: 'note', text: 'note', onPick: open('notes') }] : []),
    {
      id: 'remove',
      text: 'ask nothing',
      onPick: () => editBeat(session, beat, (now) => withKeys(now, { ask: undefined })),
    },
  ]
  const mayWrite = useMayWrite()
  return (
    <div className="row ask">
      <div className="choice choice-line">
        <span className="small">the player types</span>
        <div className="choice-text">
          <StoryText
            scene={beat.scene}
            label="What the player is asked"
            field={fieldOf(beat, ':prompt')}
            value={ask.prompt}
            placeholder="What is asked"
            onCommit={(prompt) => update({ prompt })}
          />
        </div>
      </div>
      <div className="margin">
        <label className="small">
          kept in{' '}
          <EditSelect
            className="plain"
            aria-label="The text entry that keeps the word"
            value={ask.into}
            onChange={(event) => {
              if (event.target.value !== MAKE) return update({ into: event.target.value })
              makeInto(session, beat)
            }}
          >
            {!known && (
              <option value={ask.into}>{ask.into === '' ? 'nothing yet' : `${ask.into} (no text entry)`}</option>
            )}
            {texts.map(({ id, name }) => (
              <option key={id} value={id}>
                {name ?? plainId(id)}
              </option>
            ))}
            <option value={MAKE}>a new text entry</option>
          </EditSelect>
        </label>
        {(ask.suggest !== undefined || adding === 'suggest') && (
          <label className="small led">
            offers{' '}
            <DraftText
              label="Words that are offered, with commas"
              field={fieldOf(beat, ':prompt?suggest')}
              value={(ask.suggest ?? []).join(', ')}
              placeholder="none"
              single
              onCommit={(text) =>
                update({
                  suggest: listOrNone(
                    text
                      .split(',')
                      .map((word) => word.trim())
                      .filter((word) => word !== ''),
                  ),
                })
              }
            />
          </label>
        )}
        {(ask.default !== undefined || adding === 'default') && (
          <label className="small led">
            empty stands for{' '}
            <DraftText
              label="What an empty answer stands for"
              field={fieldOf(beat, ':prompt?default')}
              value={ask.default ?? ''}
              placeholder="nothing: it is asked again"
              single
              onCommit={(text) => update({ default: text.trim() === '' ? undefined : text.trim() })}
            />
          </label>
        )}
        {(ask.notes !== undefined || adding === 'notes') && (
          <div className="note">
            <DraftText
              label="Note on what is asked"
              field={fieldOf(beat, ':prompt?notes')}
              value={ask.notes ?? ''}
              placeholder="note"
              onCommit={(notes) => update({ notes: notes === '' ? undefined : notes })}
            />
          </div>
        )}
        <span className="add margin-add">
          {mayWrite && (
            <MoreMenu
              className="more"
              label="What can be added here (Alt+.)"
              text="+"
              items={() => items}
              onLeave={() => focusSoon(fieldOf(beat, ':prompt'))}
            />
          )}
        </span>
      </div>
    </div>
  )
}
