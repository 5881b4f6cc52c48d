'use client'

import { Children, useState, type ReactNode } from 'react'
import { Bare } from '../../../ui/bare'
import { MoreMenu, type MenuItem } from '../../../ui/more-menu'
import { ExpressionField } from '../../expression/expression-field'
import { MarginNote } from '../../expression/margin-note'
import type { Form } from '../../expression/reader'
import { DraftText } from '../../shared/fields/draft-text'
import { isTodo } from '../outline/outline-rows'
import { focusSoon } from './edit-beat'

interface MarginProps {
  readonly scene: string
  readonly when: string | undefined
  readonly effects?: readonly string[] | undefined
  readonly lead: string
  readonly field: string
  readonly onWhen?: (when: string | undefined) => void
  readonly onEffects?: (effects: string[] | undefined) => void
  /** How effects read here: what a choice does is not what a beat does on arrival. */
  readonly effectLead?: string
  readonly notes?: string | undefined
  readonly onNotes?: (notes: string | undefined) => void
  /** What else can be added here. */
  readonly adds?: readonly MenuItem[]
  readonly children?: ReactNode
}

/** The margin beside one thing: its gate, its effects, and how to add them. */
export function Margin({
  scene,
  when,
  effects,
  lead,
  field,
  onWhen,
  onEffects,
  effectLead,
  notes,
  onNotes,
  adds = [],
  children,
}: MarginProps) {
  const [adding, setAdding] = useState<Form | 'note'>()
  const list = effects ?? []
  const quick: MenuItem[] = []
  if (when === undefined && onWhen !== undefined)
    quick.push({ id: 'when', text: 'gate', hint: 'when it holds', onPick: () => setAdding('gate') })
  if (onEffects !== undefined)
    quick.push({ id: 'do', text: 'effect', hint: 'what it changes', onPick: () => setAdding('effect') })
  const open = (part: string) => () =>
    document.querySelector<HTMLElement>(`[data-field="${CSS.escape(`${field}?${part}`)}"]`)?.click()
  const items: MenuItem[] = [
    ...(when !== undefined && onWhen !== undefined
      ? [{ id: 'open-when', text: 'change the gate', hint: when, onPick: open('when') }]
      : []),
    ...list.map((effect, at) => ({
      id: `open-do${at + 1}`,
      text: 'change the effect',
      hint: effect,
      onPick: open(`do${at + 1}`),
    })),
    ...quick,
    ...adds,
  ]
  if (onNotes !== undefined && notes === undefined)
    items.push({
      id: 'note',
      text: 'note',
      hint: 'for the team; todo: …',
      onPick: () => {
        setAdding('note')
        focusSoon(`${field}?note`)
      },
    })
  // a row with nothing in its margin yet offers there what is added most
  const alone =
    when === undefined && list.length === 0 && notes === undefined && Children.toArray(children).length === 0
  return (
    <div className="margin">
      {children}
      {when !== undefined && onWhen !== undefined && (
        <MarginNote form="gate" scene={scene} source={when} lead={lead} onChange={onWhen} field={`${field}?when`} />
      )}
      {adding === 'gate' && (
        <ExpressionField
          form="gate"
          scene={scene}
          source=""
          field={`${field}?when`}
          onDone={(text) => {
            setAdding(undefined)
            if (text !== '') onWhen?.(text)
          }}
          onGiveUp={(text) => {
            setAdding(undefined)
            if (text === '') return
            onWhen?.(text)
            onWhen?.(undefined)
          }}
        />
      )}
      {list.length > 0 && effectLead !== undefined && <span className="small">{effectLead}</span>}
      {list.map((effect, at) => (
        <MarginNote
          key={`${at} ${effect}`}
          form="effect"
          scene={scene}
          source={effect}
          field={`${field}?do${at + 1}`}
          onChange={(next) => {
            const changed =
              next === undefined
                ? list.filter((_, index) => index !== at)
                : list.map((one, index) => (index === at ? next : one))
            onEffects?.(changed.length === 0 ? undefined : changed)
          }}
        />
      ))}
      {adding === 'effect' && (
        <ExpressionField
          form="effect"
          scene={scene}
          source=""
          field={`${field}?do${list.length + 1}`}
          onDone={(text) => {
            setAdding(undefined)
            if (text !== '') onEffects?.([...list, text])
          }}
          onGiveUp={(text) => {
            setAdding(undefined)
            if (text === '') return
            onEffects?.([...list, text])
            onEffects?.(list.length === 0 ? undefined : [...list])
          }}
        />
      )}
      {(notes !== undefined || adding === 'note') && onNotes !== undefined && (
        <div className={isTodo(notes) ? 'note todo' : 'note'}>
          <DraftText
            label="Note"
            field={`${field}?note`}
            value={notes ?? ''}
            placeholder="note, or todo: …"
            onCommit={(text) => {
              setAdding(undefined)
              onNotes(text.trim() === '' ? undefined : text)
            }}
          />
        </div>
      )}
      {adding === undefined && items.length > 0 && (
        <span className="add margin-add">
          {alone &&
            quick.map(({ id, text, onPick }) => (
              <Bare key={id} tabIndex={-1} data-field={`${field}+${id}`} onClick={onPick}>
                + {text}
              </Bare>
            ))}
          <MoreMenu
            className="more"
            label="What can be added here (Alt+.)"
            text="+"
            items={() => items}
            onLeave={() => focusSoon(field)}
          />
        </span>
      )}
    </div>
  )
}
