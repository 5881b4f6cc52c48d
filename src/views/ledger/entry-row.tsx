'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { ListPath } from '../../core/story/changes/types'
import type { Entry, EntryKind } from '../../core/story/types'
import { plainId } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { DraftText } from '../shared/draft-text'
import { useThings } from '../shared/things'
import { useSession } from '../shared/use-session'
import { KINDS, asKind } from '../shared/entry-kinds'

interface Props {
  readonly entry: Entry
  readonly at: number
  /** The list it stands in: the story's, or a scene's own. */
  readonly path: ListPath
  readonly reads: number
  readonly writes: number
}

/** One entry: its kind, what it starts as, its range or positions, its note, and how often it is used. */
export function EntryRow({ entry, at, path, reads, writes }: Props) {
  const session = useSession()
  const replace = (item: Entry) => session.edit({ op: 'replace', in: path, id: entry.id, at, item })
  const things = useThings()
  const used = reads + writes
  return (
    <Flex gap="3" py="1.5" borderBottom="1px solid" borderColor="hairline" align="baseline" data-ledger={entry.id}>
      <Box w="8.5rem" minW="0" flexShrink={0}>
        <Quiet px="0" fontWeight={600} color="ink" title="Rename it everywhere" aria-label={`Rename ${entry.id}`} onClick={() => things.rename({ of: 'entry', id: entry.id })}>
          {plainId(entry.id)}
        </Quiet>
        <Text color="faded" fontSize="xs">
          {entry.id}
        </Text>
      </Box>
      <select className="field" aria-label={`Kind of ${entry.id}`} value={entry.kind} onChange={(event) => replace(asKind(entry, event.target.value as EntryKind))}>
        {KINDS.map((kind) => (
          <option key={kind}>{kind}</option>
        ))}
      </select>
      <Flex gap="3" align="baseline" wrap="wrap" flex="1 1 19rem" minW="0">
        <Details entry={entry} replace={replace} />
      </Flex>
      <Box flex="1 1 9rem" minW="6rem" color="faded">
        <DraftText label={`Group of ${entry.id}`} placeholder="group" value={entry.group ?? ''} single onCommit={(group) => replace({ ...entry, group: group.trim() === '' ? undefined : group.trim() })} />
        <DraftText label={`Note on ${entry.id}`} placeholder="note" value={entry.notes ?? ''} onCommit={(notes) => replace({ ...entry, notes: notes === '' ? undefined : notes })} />
      </Box>
      <Text color="faded" fontSize="sm" w="8.2rem" flexShrink={0}>
        {used === 0 ? 'not used yet' : `read ${reads}×, changed ${writes}×`}
      </Text>
      <Quiet aria-label={`Delete ${entry.id}`} onClick={() => things.remove({ of: 'entry', id: entry.id })}>
        Delete
      </Quiet>
    </Flex>
  )
}

function Details({ entry, replace }: { entry: Entry; replace: (entry: Entry) => void }) {
  switch (entry.kind) {
    case 'flag':
      return (
        <label>
          starts as{' '}
          <select className="field" value={entry.initial === true ? 'yes' : 'no'} onChange={(event) => replace({ ...entry, initial: event.target.value === 'yes' ? true : undefined })}>
            <option>no</option>
            <option>yes</option>
          </select>
        </label>
      )
    case 'switch':
      return (
        <>
          <Box flex="1" fontFamily="story">
            <DraftText
              label={`Positions of ${entry.id}, with commas`}
              value={entry.positions.join(', ')}
              single
              onCommit={(text) => {
                const positions = [...new Set(text.split(',').map((position) => position.trim()).filter((position) => position !== ''))]
                if (positions.length > 0) replace({ ...entry, positions, initial: entry.initial !== undefined && positions.includes(entry.initial) ? entry.initial : undefined })
              }}
            />
          </Box>
          <label>
            starts as{' '}
            <select className="field" value={entry.initial ?? entry.positions[0] ?? ''} onChange={(event) => replace({ ...entry, initial: event.target.value })}>
              {entry.positions.map((position) => (
                <option key={position}>{position}</option>
              ))}
            </select>
          </label>
        </>
      )
    case 'counter':
      return (
        <>
          <NumberField label="from" name={`Least value of ${entry.id}`} value={entry.min} onChange={(min) => replace({ ...entry, min })} />
          <NumberField label="to" name={`Largest value of ${entry.id}`} value={entry.max} onChange={(max) => replace({ ...entry, max })} />
          <NumberField label="starts at" name={`First value of ${entry.id}`} value={entry.initial ?? entry.min} onChange={(initial) => replace({ ...entry, initial })} />
        </>
      )
    case 'item':
      return (
        <>
          <NumberField label="at most" name={`Most of ${entry.id}`} value={entry.max} onChange={(max) => replace({ ...entry, max })} />
          <NumberField label="starts at" name={`First value of ${entry.id}`} value={entry.initial ?? 0} onChange={(initial) => replace({ ...entry, initial })} />
        </>
      )
    case 'text':
      return (
        <Box flex="1" fontFamily="story">
          <DraftText label={`First word of ${entry.id}`} placeholder="starts empty" value={entry.initial ?? ''} single onCommit={(initial) => replace({ ...entry, initial: initial === '' ? undefined : initial })} />
        </Box>
      )
  }
}

/** A whole number, taken when the field is left; anything else is shown as wrong and not taken. */
function NumberField({ label, name, value, onChange }: { label: string; name: string; value: number; onChange: (value: number) => void }) {
  const [text, setText] = useState<string>()
  const typed = text === undefined ? value : Number(text)
  const sound = text === undefined || (text.trim() !== '' && Number.isSafeInteger(typed))
  const settle = () => {
    setText(undefined)
    if (sound && typed !== value) onChange(typed)
  }
  return (
    <Flex as="label" align="baseline" gap="1.5" whiteSpace="nowrap">
      {label}
      <input
        className="field number"
        size={2}
        inputMode="numeric"
        aria-label={name}
        aria-invalid={!sound}
        title={sound ? undefined : 'A whole number is expected.'}
        value={text ?? String(value)}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => {
          if (event.key === 'Enter') settle()
        }}
      />
    </Flex>
  )
}
