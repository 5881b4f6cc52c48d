'use client'

import { Box, chakra } from '@chakra-ui/react'
import { useId, useState, type ReactNode } from 'react'
import { idTrouble } from '../../core/base/ids'
import type { ExpressionError, Missing } from '../../core/expression/ast'
import { checkCondition, checkEffect, type Scope } from '../../core/expression/check'
import { parseEffect, parseExpression } from '../../core/expression/parse'
import { sayCondition, sayEffect } from '../../core/expression/words'
import { scopeOf } from '../../core/story/scope'
import type { Change } from '../../core/story/changes/types'
import type { Story } from '../../core/story/types'
import { plainId, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { Combo } from '../../ui/combo'
import { KINDS, KIND_HINTS, newEntry } from '../shared/entry-kinds'
import { newQuest } from '../shared/new-quest'
import { useNaming, useSession } from '../shared/use-session'
import { DraftText } from '../shared/draft-text'
import { Bare } from './bare'
import { completions } from './completions'
import { focusSoon } from './edit-beat'
import { isTodo } from './outline-rows'
import { PickPanel } from './pick-panel'

type Form = 'gate' | 'effect'

interface Read {
  /** In plain words, when it is understood. */
  readonly words: string | undefined
  readonly error: ExpressionError | undefined
}

function read(form: Form, source: string, scope: Scope, names: ReturnType<typeof storyNames>): Read {
  if (form === 'gate') {
    const parsed = parseExpression(source)
    const error = parsed.ok ? checkCondition(parsed.value, scope)[0] : parsed.error
    return { words: parsed.ok && error === undefined ? sayCondition(parsed.value, names) : undefined, error }
  }
  const parsed = parseEffect(source)
  const error = parsed.ok ? checkEffect(parsed.value, scope)[0] : parsed.error
  return { words: parsed.ok && error === undefined ? sayEffect(parsed.value, names) : undefined, error }
}

function useReader(scene: string, promise = false) {
  const { story, declared } = useNaming()
  const scope = scopeOf(
    declared,
    declared.scenes.findIndex(({ id }) => id === scene),
    promise,
  )
  const names = storyNames(story)
  return { story, read: (form: Form, source: string) => read(form, source, scope, names) }
}

interface NoteProps {
  /** The part of a promise: it may ask where the story rests. */
  readonly promise?: boolean
  readonly form: Form
  readonly scene: string
  readonly source: string
  /** undefined: it is taken away. */
  readonly onChange: (source: string | undefined) => void
  /** What the words begin with: "opens when", "if". */
  readonly lead?: string
  readonly field: string
}

/** A gate or an effect in plain words; the expression while it is edited. */
export function MarginNote({ form, scene, source, onChange, lead, field, promise }: NoteProps) {
  const { read: reader } = useReader(scene, promise)
  const [editing, setEditing] = useState(source === '' && promise !== true)
  if (editing) {
    return (
      <ExpressionField
        form={form}
        scene={scene}
        source={source}
        field={field}
        promise={promise}
        onDone={(text) => {
          setEditing(false)
          if (text !== source) onChange(text === '' ? undefined : text)
        }}
      />
    )
  }
  const { words, error } = reader(form, source)
  return (
    <Bare
      data-field={field}
      className={`flush wrapped ${error === undefined ? form : 'broken'}`}
      onClick={() => setEditing(true)}
      title={error === undefined ? source : `${error.message} — ${source}`}
    >
      {words === undefined ? (source === '' ? 'write it …' : source) : lead === undefined ? words : `${lead} ${words}`}
    </Bare>
  )
}

interface FieldProps {
  readonly promise?: boolean | undefined
  readonly form: Form
  readonly scene: string
  readonly source: string
  readonly field: string
  readonly onDone: (text: string) => void
}

function ExpressionField({ form, scene, source, field, promise, onDone }: FieldProps) {
  const { story, read: reader } = useReader(scene, promise)
  const [text, setText] = useState(source)
  const errorId = useId()
  const { words, error } = reader(form, text)
  const options = completions(story, scene, form, text, promise)
  const { missing } = error ?? {}
  return (
    // wider than the margin: an expression is longer than its words
    <Box
      position="relative"
      zIndex="docked"
      ml={promise ? undefined : '-13rem'}
      minW={promise ? '26rem' : undefined}
      bg="sheet"
      border="1px solid"
      borderColor="edge"
      borderRadius="sheet"
      p="2"
      boxShadow="sm"
      css={{
        '& select': {
          bg: 'sheet',
          border: '1px solid',
          borderColor: 'edge',
          borderRadius: 'sheet',
          paddingInline: '0.2rem',
          minHeight: '24px',
        },
      }}
      fontFamily="body"
      fontSize="sm"
      role="group"
      aria-label={form === 'gate' ? 'Gate' : 'Effect'}
      onBlur={(event) => {
        // between picking and typing one stays inside
        if (!event.currentTarget.contains(event.relatedTarget)) onDone(text.trim())
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onDone(source)
      }}
    >
      <PickPanel form={form} scene={scene} text={text} onText={setText} />
      <Combo
        mono
        autoFocus
        field={`${field}:edit`}
        label={form === 'gate' ? 'Opens when (expression)' : 'Effect (expression)'}
        placeholder={form === 'gate' ? 'rope >= 1 && !toll_paid' : 'tide -= 1'}
        text={text}
        onText={setText}
        options={options}
        onPick={setText}
        onEnter={() => onDone(text.trim())}
        onLeave={() => undefined}
        onCancel={() => onDone(source)}
        invalid={text !== '' && error !== undefined}
        describedBy={errorId}
      />
      <Box id={errorId} minH="1.2em" color={error === undefined ? 'faded' : 'needle'} aria-live="polite">
        {text === '' ? 'Empty: it is taken away.' : error === undefined ? words : <ErrorAt text={text} error={error} />}
      </Box>
      {missing?.of === 'entry' && <MakeEntry id={missing.id} />}
      {missing !== undefined && <MakeMissing missing={missing} />}
    </Box>
  )
}

/** An entry that does not exist yet can be made without leaving the sentence. */
function MakeEntry({ id }: { id: string }) {
  const session = useSession()
  if (idTrouble(id) !== undefined) return null
  return (
    <Box>
      Make it a{' '}
      {KINDS.map((kind) => (
        <Quiet
          key={kind}
          color="needle"
          title={KIND_HINTS[kind]}
          // the field must not be left, or it would be taken as it is
          onMouseDown={(event) => event.preventDefault()}
          onClick={() =>
            session.edit({
              op: 'insert',
              in: { list: 'ledger' },
              at: session.getState().story.ledger?.length ?? 0,
              item: newEntry(kind, id),
            })
          }
        >
          {kind}
        </Quiet>
      ))}
    </Box>
  )
}

/** A stage, position or quest that does not exist yet can be made without leaving the sentence. */
function MakeMissing({ missing }: { missing: Missing }) {
  const session = useSession()
  const { story } = useNaming()
  const offer = makingOf(story, missing)
  if (offer === undefined) return null
  return (
    <Quiet color="needle" onMouseDown={(event) => event.preventDefault()} onClick={() => session.edit(offer.change)}>
      {offer.says}
    </Quiet>
  )
}

/** The edit that makes what is missing; undefined where it is not to be made here. */
function makingOf(story: Story, missing: Missing): { readonly says: string; readonly change: Change } | undefined {
  const { id } = missing
  switch (missing.of) {
    case 'quest': {
      if (idTrouble(id) !== undefined) return undefined
      const at = story.quests?.length ?? 0
      return {
        says: `Make the quest “${plainId(id)}”`,
        change: { op: 'insert', in: { list: 'quests' }, at, item: newQuest(id, plainId(id)) },
      }
    }
    case 'stage': {
      const at = story.quests?.findIndex((quest) => quest.id === missing.quest) ?? -1
      const quest = story.quests?.[at]
      if (quest === undefined || idTrouble(id) !== undefined) return undefined
      const item = { ...quest, stages: [...quest.stages, { id, name: plainId(id) }] }
      return {
        says: `Make “${id}” a stage of ${quest.name}`,
        change: { op: 'replace', in: { list: 'quests' }, id: quest.id, at, item },
      }
    }
    case 'position': {
      const at = story.ledger?.findIndex((entry) => entry.id === missing.entry) ?? -1
      const entry = story.ledger?.[at]
      if (entry?.kind !== 'switch') return undefined
      const item = { ...entry, positions: [...entry.positions, id] }
      return {
        says: `Make “${id}” a position of ${plainId(entry.id)}`,
        change: { op: 'replace', in: { list: 'ledger' }, id: entry.id, at, item },
      }
    }
    case 'entry':
    case 'beat':
    case 'choice':
    case 'ending':
      return undefined
  }
}

/** The message, and the very place in the text. */
function ErrorAt({ text, error }: { text: string; error: ExpressionError }) {
  const part = text.slice(error.start, Math.max(error.end, error.start + 1))
  return (
    <>
      {part.trim() !== '' && (
        <chakra.code bg="needle.wash" px="1" mr="1">
          {part}
        </chakra.code>
      )}
      {error.message}
    </>
  )
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
          className={`add margin-add${when === undefined && list.length === 0 && notes === undefined && !children ? ' alone' : ''}`}
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
