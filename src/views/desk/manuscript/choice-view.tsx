'use client'

import { focusSoon } from '../../../ui/named-fields'
import { useRef, useState, type KeyboardEvent } from 'react'
import type { Choice, Rule } from '../../../core/story/types'
import { VerdictMark } from '../../../ui/marks'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { useVerdict } from '../../shared/session/verdicts'
import {
  insertAt,
  listOrNone,
  moveBy,
  moveTo,
  nameChoice,
  removeAt,
  replaceAt,
  withKeys,
} from '../../../core/story/reshape/beat-edits'
import { editBeat, fieldOf, type BeatRef } from './edit-beat'
import { CueSigns, isCueKey } from './cue-signs'
import { Margin } from './margin'
import { RoadField } from './road'
import { RuleView } from './rule-view'
import { addBeatAfter, addChoice, placeOfNew } from '../outline/structure'
import { StoryText } from './story-text'
import { personMeant } from '../../../core/story/reshape/person-meant'
import { EditBare, EditSelect } from '../../shared/fields/edits'

interface Props {
  readonly beat: BeatRef
  readonly at: number
  readonly choice: Choice
}

/** A choice: an indented turn, its destination on the same line, its gate and effects in the margin. */
export function ChoiceView({ beat, at, choice }: Props) {
  const session = useSession()
  const verdict = useVerdict(`${beat.scene}.${beat.id}.${choice.id}`, 'choices')
  const person = useSessionState((state) => state.story.cast?.find(({ id }) => id === choice.who))
  const field = fieldOf(beat, `.${choice.id}`)
  const update = (make: (choice: Choice) => Choice) =>
    editBeat(session, beat, (now) => {
      const found = now.choices?.[at]
      return found === undefined ? undefined : { ...now, choices: replaceAt(now.choices, at, make(found)) }
    })
  /** The id that it was given since its text was come to. */
  const given = useRef<string>(undefined)
  const rename = (text: string) =>
    editBeat(session, beat, (now, story) => {
      const found = now.choices?.[at]
      if (found === undefined) return undefined
      const place = { scene: beat.scene, index: 0, beat: now }
      const named = nameChoice(story, place, found, text, found.id === given.current)
      if (named.id !== found.id) given.current = named.id
      return { ...now, choices: replaceAt(now.choices, at, named) }
    })
  const [cueing, setCueing] = useState(false)
  const press = (event: KeyboardEvent<HTMLTextAreaElement>, text: string) => {
    if (isCueKey(event)) {
      event.preventDefault()
      setCueing(true)
    } else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      if (event.shiftKey) addBeatAfter(session, beat)
      else addChoice(session, beat, at)
    } else if (event.key === 'Enter' && !event.shiftKey) {
      event.preventDefault()
      // the text may have named the choice: look its field up by place
      queueMicrotask(() => {
        const { story } = session.getState()
        const now = story.scenes.find(({ id }) => id === beat.scene)?.beats.find(({ id }) => id === beat.id)?.choices?.[
          at
        ]
        if (now !== undefined) focusSoon(`${fieldOf(beat, `.${now.id}`)}>to`)
      })
    } else if (event.key === 'Backspace' && text === '') {
      event.preventDefault()
      queueMicrotask(() =>
        editBeat(session, beat, (now) => withKeys(now, { choices: listOrNone(removeAt(now.choices, at)) })),
      )
    } else if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault()
      const by = event.key === 'ArrowUp' ? -1 : 1
      queueMicrotask(() => {
        editBeat(session, beat, (now) => {
          const choices = moveBy(now.choices, at, by)
          return choices && { ...now, choices }
        })
        focusSoon(field)
      })
    }
  }
  const [asking, setAsking] = useState(false)
  /** Whoever is named in the text, or met where it leads; else one is asked. */
  const meet = () => {
    const { story } = session.getState()
    const who = personMeant(story, choice)
    if (who === undefined) {
      setAsking(true)
      focusSoon(`${field}?who`)
    } else update((now) => ({ ...now, who }))
  }
  const rules = typeof choice.to === 'string' ? undefined : choice.to
  const setRules = (next: Rule[]) => update((now) => ({ ...now, to: next }))
  const addRoad = () => {
    const known = rules ?? (typeof choice.to === 'string' && choice.to !== '' ? [{ to: choice.to }] : [{ to: '' }])
    const place = placeOfNew(known)
    setRules(insertAt(known, place, { to: '' }))
    focusSoon(`${field}#${place + 1}>to`)
  }
  return (
    <>
      <div className="row">
        <div className="choice">
          <div className="choice-line">
            <VerdictMark verdict={verdict} size={8} />
            <div className="choice-text" onBlur={() => (given.current = undefined)}>
              <StoryText
                scene={beat.scene}
                label={`Choice ${at + 1}`}
                field={field}
                value={choice.text}
                placeholder="What the player may answer"
                onCommit={rename}
                onKeyDown={press}
              />
            </div>
            {rules === undefined && typeof choice.to === 'string' && (
              <RoadField
                scene={beat.scene}
                to={choice.to}
                field={`${field}>to`}
                label={`Choice ${at + 1}: where to`}
                onChange={(to) => update((now) => ({ ...now, to }))}
              />
            )}
          </div>
        </div>
        <Margin
          scene={beat.scene}
          when={choice.when}
          effects={choice.do}
          lead="opens when"
          isChoice
          effectLead={choice.do === undefined ? undefined : 'when taken:'}
          field={field}
          onWhen={(when) => update((now) => withKeys(now, { when }))}
          onEffects={(effects) => update((now) => withKeys(now, { do: listOrNone(effects ?? []) }))}
          notes={choice.notes}
          onNotes={(notes) => update((now) => withKeys(now, { notes }))}
          adds={[
            ...(choice.who === undefined
              ? [
                  {
                    id: 'who',
                    text: 'encounter',
                    hint: 'the player approaches somebody',
                    onPick: meet,
                  },
                ]
              : []),
            { id: 'cue', text: 'cue', hint: 'Alt+C', onPick: () => setCueing(true) },
            ...(choice.once === true
              ? []
              : [
                  {
                    id: 'once',
                    text: 'once',
                    hint: 'taken one time only',
                    onPick: () => update((now) => ({ ...now, once: true as const })),
                  },
                ]),
            ...(choice.when !== undefined && choice.closed !== 'show'
              ? [
                  {
                    id: 'closed',
                    text: 'show closed',
                    hint: 'greyed while it is closed',
                    onPick: () => update((now) => ({ ...now, closed: 'show' as const })),
                  },
                ]
              : []),
            { id: 'roads', text: 'another road', hint: 'the first that holds is taken', onPick: addRoad },
          ]}
        >
          {(choice.who !== undefined || asking) && (
            <label className={choice.who !== undefined && person === undefined ? 'broken' : 'small'}>
              encounter with{' '}
              <WhoField
                who={choice.who}
                field={`${field}?who`}
                onChange={(who) => {
                  setAsking(false)
                  update((now) => withKeys(now, { who }))
                }}
              />
            </label>
          )}
          {(choice.cues !== undefined || cueing) && (
            <CueSigns
              cues={choice.cues}
              field={field}
              isAdding={cueing}
              onAdding={setCueing}
              onChange={(cues) => update((now) => withKeys(now, { cues: listOrNone(cues) }))}
            />
          )}
          {choice.once === true && (
            <Said
              text="once"
              label="Can be taken one time only; take that away"
              onClick={() => update((now) => withKeys(now, { once: undefined }))}
            />
          )}
          {choice.closed === 'show' && (
            <Said
              text="shown while closed"
              label="Shown greyed while it is closed; hide it instead"
              onClick={() => update((now) => withKeys(now, { closed: undefined }))}
            />
          )}
        </Margin>
      </div>
      {rules?.map((rule, index) => (
        <RuleView
          key={index}
          scene={beat.scene}
          rule={rule}
          field={`${field}#${index + 1}`}
          lead={index === 0 ? 'leads' : 'or else'}
          gateLead="if"
          onChange={(next) => setRules(replaceAt(rules, index, next))}
          onMove={(from, to) => {
            const moved = moveTo(rules, from, to)
            if (moved !== undefined) setRules(moved)
          }}
          onRemove={() =>
            update((now) => ({ ...now, to: rules.length === 2 ? rules[1 - index]!.to : removeAt(rules, index) }))
          }
        />
      ))}
    </>
  )
}

/** Whom the player approaches. */
function WhoField({
  who,
  field,
  onChange,
}: {
  who: string | undefined
  field: string
  onChange: (who: string | undefined) => void
}) {
  const cast = useSessionState((state) => state.story.cast) ?? []
  return (
    <EditSelect
      className="plain"
      aria-label="Whom the player approaches"
      data-field={field}
      value={who ?? '?'}
      onChange={(event) => onChange(event.target.value === '' ? undefined : event.target.value)}
    >
      {who === undefined && (
        <option value="?" disabled>
          whom?
        </option>
      )}
      {who !== undefined && !cast.some(({ id }) => id === who) && <option value={who}>{who} (not in the cast)</option>}
      {cast.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
      <option value="">nobody: an ordinary choice</option>
    </EditSelect>
  )
}

function Said({ text, label, onClick }: { text: string; label: string; onClick: () => void }) {
  return (
    <EditBare className="flush" aria-label={label} title={label} onClick={onClick}>
      {text}
    </EditBare>
  )
}
