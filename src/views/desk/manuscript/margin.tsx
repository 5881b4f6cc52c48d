'use client'

import { fieldNamed, focusSoon } from '../../../ui/named-fields'
import { Children, useState, type ReactNode } from 'react'
import { Bare } from '../../../ui/bare'
import { MoreMenu, type MenuItem } from '../../../ui/more-menu'
import { ExpressionField } from '../../expression/expression-field'
import { MarginNote } from '../../expression/margin-note'
import type { Form } from '../../expression/reader'
import { VerdictMark } from '../../../ui/marks'
import { useTurnVerdict } from '../../shared/session/verdicts'
import { DraftText } from '../../shared/fields/draft-text'
import { isTodo } from '../../../core/story/words'
import { CommentMark } from '../../shared/comments/comment-mark'
import { useComments } from '../../shared/comments/comments-context'
import { RowMarks } from './row-marks'
import { useMayWrite } from '../../shared/session/use-session'

/** The variant or turn that a line is the first of: what is said of it stands in the line's margin, before its own. */
export interface MarginHead {
  readonly field: string
  /** "otherwise", "the first time"; a gate stands in its place. */
  readonly words: string
  /** What its gate begins with. */
  readonly lead: string
  readonly when?: string | undefined
  readonly onWhen?: (when: string | undefined) => void
  readonly notes?: string | undefined
  readonly onNotes?: (notes: string | undefined) => void
  readonly items: readonly MenuItem[]
  /** A turn carries its verdict. */
  readonly isTurn?: true
}

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
  readonly head?: MarginHead | undefined
  readonly isChoice?: true
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
  head,
  isChoice,
  children,
}: MarginProps) {
  const [adding, setAdding] = useState<Form | 'note' | 'head gate' | 'head note'>()
  const list = effects ?? []
  const quick: MenuItem[] = []
  if (when === undefined && onWhen !== undefined)
    quick.push({ id: 'when', text: 'gate', hint: 'when it holds', onPick: () => setAdding('gate') })
  if (onEffects !== undefined)
    quick.push({ id: 'do', text: 'effect', hint: 'what it changes', onPick: () => setAdding('effect') })
  const open = (part: string) => () => fieldNamed(`${field}?${part}`)?.click()
  const mayWrite = useMayWrite()
  const comments = useComments()
  const items: MenuItem[] = [
    ...headItems(head, setAdding),
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
  const says: MenuItem = {
    id: 'comment',
    text: 'comment',
    hint: 'to the others',
    onPick: () => comments?.open(`at ${field}`),
  }
  const offered = [...(mayWrite ? items : []), ...(comments?.mayBegin === true ? [says] : [])]
  // a row with nothing in its margin yet offers there what is added most
  const alone =
    head === undefined &&
    when === undefined &&
    list.length === 0 &&
    notes === undefined &&
    Children.toArray(children).length === 0
  return (
    <div className="margin">
      {head !== undefined && (
        <HeadNotes scene={scene} head={head} adding={adding} onAdded={() => setAdding(undefined)} />
      )}
      <RowMarks address={field} isChoice={isChoice === true} />
      <CommentMark topic={`at ${field}`} />
      {children}
      {when !== undefined && onWhen !== undefined && (
        <MarginNote form="gate" scene={scene} source={when} lead={lead} onChange={onWhen} field={`${field}?when`} />
      )}
      {adding === 'gate' && (
        <NewGate scene={scene} field={field} onWhen={onWhen} onAdded={() => setAdding(undefined)} />
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
        <Note notes={notes} field={field} onNotes={onNotes} onAdded={() => setAdding(undefined)} />
      )}
      {adding === undefined && offered.length > 0 && (
        <span className="add margin-add">
          {mayWrite &&
            alone &&
            quick.map(({ id, text, onPick }) => (
              <Bare key={id} tabIndex={-1} data-field={`${field}+${id}`} onClick={onPick}>
                + {text}
              </Bare>
            ))}
          <MoreMenu
            className="more"
            label="What can be added here (Alt+.)"
            text="+"
            items={() => offered}
            onLeave={() => focusSoon(field)}
          />
        </span>
      )}
    </div>
  )
}

function NewGate({
  scene,
  field,
  onWhen,
  onAdded,
}: {
  scene: string
  field: string
  onWhen: ((when: string | undefined) => void) | undefined
  onAdded: () => void
}) {
  return (
    <ExpressionField
      form="gate"
      scene={scene}
      source=""
      field={`${field}?when`}
      onDone={(text) => {
        onAdded()
        if (text !== '') onWhen?.(text)
      }}
      onGiveUp={(text) => {
        onAdded()
        if (text === '') return
        onWhen?.(text)
        onWhen?.(undefined)
      }}
    />
  )
}

function Note({
  notes,
  field,
  onNotes,
  onAdded,
}: {
  notes: string | undefined
  field: string
  onNotes: (notes: string | undefined) => void
  onAdded: () => void
}) {
  return (
    <div className={isTodo(notes) ? 'note todo' : 'note'}>
      <DraftText
        label="Note"
        field={`${field}?note`}
        value={notes ?? ''}
        placeholder="note, or todo: …"
        onCommit={(text) => {
          onAdded()
          onNotes(text.trim() === '' ? undefined : text)
        }}
      />
    </div>
  )
}

function headItems(head: MarginHead | undefined, onAdd: (adding: 'head gate' | 'head note') => void): MenuItem[] {
  if (head === undefined) return []
  const { field, when, onWhen, notes, onNotes, items } = head
  const own: MenuItem[] = []
  if (onWhen !== undefined && when === undefined)
    own.push({ id: 'head-when', text: 'when this is shown', hint: head.words, onPick: () => onAdd('head gate') })
  own.push(...items)
  if (onNotes !== undefined && notes === undefined)
    own.push({
      id: 'head-note',
      text: 'note on all of it',
      onPick: () => {
        onAdd('head note')
        focusSoon(`${field}?note`)
      },
    })
  return own
}

function HeadNotes({
  scene,
  head: { field, words, lead, when, onWhen, notes, onNotes, isTurn },
  adding,
  onAdded,
}: {
  scene: string
  head: MarginHead
  adding: string | undefined
  onAdded: () => void
}) {
  return (
    <>
      {isTurn === true ? <TurnMark address={field} /> : <RowMarks address={field} />}
      {when === undefined || onWhen === undefined ? (
        <span className="small">{words}</span>
      ) : (
        <MarginNote form="gate" scene={scene} source={when} lead={lead} onChange={onWhen} field={`${field}?when`} />
      )}
      {adding === 'head gate' && <NewGate scene={scene} field={field} onWhen={onWhen} onAdded={onAdded} />}
      {(notes !== undefined || adding === 'head note') && onNotes !== undefined && (
        <Note notes={notes} field={field} onNotes={onNotes} onAdded={onAdded} />
      )}
    </>
  )
}

function TurnMark({ address }: { address: string }) {
  const verdict = useTurnVerdict(address)
  return (
    <span className="mark" data-mark={verdict}>
      <VerdictMark verdict={verdict} size={9} />
    </span>
  )
}
