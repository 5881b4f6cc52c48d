'use client'

import { Box, Flex } from '@chakra-ui/react'
import { useCallback, useEffect, useId, useRef, useState } from 'react'
import { idTrouble, plainId } from '../../core/base/ids'
import type { Missing } from '../../core/expression/ast'
import type { Change } from '../../core/story/changes/types'
import type { Story } from '../../core/story/types'
import { Plain, Quiet } from '../../ui/buttons'
import { CodeLine } from '../../ui/code-line'
import { fieldNamed } from '../../ui/named-fields'
import { keepClick } from '../../ui/steady-click'
import { KINDS, KIND_HINTS, newEntry } from '../shared/new/entry-kinds'
import { newQuest } from '../shared/new/new-quest'
import { useNaming, useSession } from '../shared/session/use-session'
import { asMeant, namesNear, renamed } from './as-meant'
import { completions, entriesIn } from './completions'
import { partsOf } from './highlight'
import { PickPanel } from './pick-panel'
import { useReader, type Form } from './reader'

interface FieldProps {
  readonly promise?: boolean | undefined
  readonly form: Form
  readonly scene: string
  readonly source: string
  readonly field: string
  /** It is left with this text. */
  readonly onDone: (text: string) => void
  /** Escape: what stood there before stands there again; what was typed instead is the edit before, so that undoing brings it back. */
  readonly onGiveUp: (text: string) => void
}

export function ExpressionField({ form, scene, source, field, promise, onDone, onGiveUp }: FieldProps) {
  const { story, read: reader, knows } = useReader(scene, promise)
  const [typed, setTyped] = useState(source)
  // it may be left before what was typed last has been drawn
  const latest = useRef(source)
  const setText = (next: string) => {
    latest.current = next
    setTyped(next)
  }
  const text = asMeant(typed, knows)
  const kept = () => asMeant(latest.current, knows).trim()
  const errorId = useId()
  const { words, error } = reader(form, text)
  const parts = useCallback(
    (code: string) =>
      partsOf(code, knows, code === '' || asMeant(code, knows) !== code ? undefined : reader(form, code).error),
    // oxlint-disable-next-line react/exhaustive-deps -- the reader is as good as the story that it reads by
    [story, scene, form, promise],
  )
  const { missing } = error ?? {}
  const box = useRef<HTMLDivElement>(null)
  // near the lower edge its whole content comes into view
  useEffect(() => {
    // browsers differ in what this gives back
    box.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  // left by a key, one is back at the row
  const done = () => {
    onDone(kept())
    backToRow(field)
  }
  const giveUp = () => {
    onGiveUp(kept())
    backToRow(field)
  }
  return (
    // wider than the margin: an expression is longer than its words
    <Box
      ref={box}
      position={promise ? 'relative' : 'absolute'}
      zIndex="dropdown"
      {...(promise ? {} : { right: 0, top: 0, w: '27rem', maxW: '96vw', scrollMarginBlock: '0.75rem' })}
      minW={promise ? '26rem' : undefined}
      bg="sheet"
      border="1px solid"
      borderColor="edge"
      borderRadius="sheet"
      p="2"
      boxShadow="sm"
      css={{
        '& .known': { color: 'teal' },
        '& .quest, & .function, & .word': { fontWeight: 600 },
        '& .string, & .number': { color: 'ochre' },
        '& .wrong': { textDecoration: 'underline wavy', textDecorationColor: 'needle' },
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
        if (event.currentTarget.contains(event.relatedTarget)) return
        keepClick()
        onDone(kept())
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') giveUp()
        if (event.key !== 'Enter' || !(event.target instanceof HTMLElement) || !event.target.matches('select, input'))
          return
        event.preventDefault()
        done()
      }}
    >
      <PickPanel form={form} scene={scene} promise={promise} text={text} onText={setText} />
      <CodeLine
        field={`${field}:edit`}
        label={form === 'gate' ? 'Opens when (expression)' : 'Effect (expression)'}
        placeholder={form === 'gate' ? 'rope >= 1 && !toll_paid' : 'tide -= 1'}
        text={typed}
        onText={setText}
        parts={parts}
        complete={(before) => completions(story, scene, form, before, promise)}
        onEnter={done}
        onCancel={giveUp}
        invalid={text !== '' && error !== undefined}
        errorAt={text === '' || text !== typed ? undefined : error?.start}
        messageId={errorId}
        message={
          <Box as="span" color={text === '' || error === undefined ? 'faded' : 'needle'}>
            {text === '' ? 'Empty: it is taken away.' : error === undefined ? words : error.message}
          </Box>
        }
      />
      {missing?.of === 'entry' &&
        namesNear(
          missing.id,
          entriesIn(story, scene).map(({ id }) => id),
        ).map((id) => (
          <Quiet
            key={id}
            color="kept"
            data-near={id}
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => setText(renamed(typed, missing.id, id))}
          >
            {plainId(id)} is meant
          </Quiet>
        ))}
      {missing?.of === 'entry' && <MakeEntry id={missing.id} />}
      {missing !== undefined && <MakeMissing missing={missing} />}
      <Flex justify="end" mt="1">
        <Plain onClick={done}>Done</Plain>
      </Flex>
    </Box>
  )
}

/** The focus goes back to the text of the row, or to its road, that the margin stands beside. */
function backToRow(field: string): void {
  const row = field.split('?')[0]!
  requestAnimationFrame(() => {
    const { activeElement } = document
    if (activeElement !== null && activeElement !== document.body) return
    ;(fieldNamed(row) ?? fieldNamed(`${row}>to`) ?? fieldNamed(field))?.focus()
  })
}

/** An entry that does not exist yet can be made without leaving the sentence. */
function MakeEntry({ id }: { id: string }) {
  const session = useSession()
  const [given, setGiven] = useState(false)
  if (idTrouble(id) !== undefined) return null
  return (
    <Box>
      <Quiet
        aria-pressed={given}
        title="The game sets it while the story rests; the story only reads it"
        onMouseDown={(event) => event.preventDefault()}
        onClick={() => setGiven(!given)}
      >
        {given ? '☑' : '☐'} the game’s own
      </Quiet>{' '}
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
              item: { ...newEntry(kind, id), ...(given ? { given: 'rest' } : {}) },
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
