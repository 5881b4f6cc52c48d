'use client'

import { Children, useState, type ReactNode } from 'react'
import { Bare } from '../../../ui/bare'
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
  readonly adds?: ReactNode
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
  adds,
  children,
}: MarginProps) {
  const [adding, setAdding] = useState<Form | 'note'>()
  const list = effects ?? []
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
      {adding === undefined && (
        <span
          className={`add margin-add${when === undefined && list.length === 0 && notes === undefined && Children.toArray(children).length === 0 ? ' alone' : ''}`}
        >
          {when === undefined && onWhen !== undefined && (
            <Bare data-field={`${field}+when`} onClick={() => setAdding('gate')}>
              + gate
            </Bare>
          )}
          {onEffects !== undefined && (
            <Bare data-field={`${field}+do`} onClick={() => setAdding('effect')}>
              + effect
            </Bare>
          )}
          {adds}
          {onNotes !== undefined && notes === undefined && (
            <Bare
              data-field={`${field}+note`}
              onClick={() => {
                setAdding('note')
                focusSoon(`${field}?note`)
              }}
            >
              + note
            </Bare>
          )}
        </span>
      )}
    </div>
  )
}
