'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { ListPath } from '../../core/story/changes/types'
import type { Use } from '../../core/story/linked'
import type { Entry, EntryKind } from '../../core/story/types'
import type { TakenValues } from '../../core/survey/questions/entry-values'
import { nameItem } from '../../core/story/reshape/naming'
import { Quiet } from '../../ui/buttons'
import { DraftText } from '../shared/fields/draft-text'
import { CommentMark } from '../shared/comments/comment-mark'
import { useThings } from '../shared/naming/things'
import { useSession } from '../shared/session/use-session'
import { KINDS, asKind } from '../shared/new/entry-kinds'
import { KindDialog } from './kind-dialog'
import { MergeDialog } from './merge-dialog'
import { neverTaken, sayValues } from './say-values'
import { Uses } from './uses'
import { Meanings, Details, WhoSets } from './entry-details'
import { EditId, EditQuiet, EditSelect } from '../shared/fields/edits'

interface Props {
  readonly entry: Entry
  readonly at: number
  /** The list it stands in: the story's, or a scene's own. */
  readonly path: ListPath
  readonly uses: readonly Use[]
  /** What it really holds; undefined while that is not known. */
  readonly taken: TakenValues | undefined
  /** Entries that are called nearly the same. */
  readonly near: readonly string[]
}

/** One entry: its kind, what it starts as, its range or positions, its note, what it really holds, and where it is used. */
export function EntryRow({ entry, at, path, uses, taken, near }: Props) {
  const session = useSession()
  const replace = (item: Entry) => session.edit({ op: 'replace', in: path, id: entry.id, at, item })
  const things = useThings()
  const [open, setOpen] = useState(false)
  const [turning, setTurning] = useState<EntryKind>()
  const [merging, setMerging] = useState(false)
  const reads = uses.filter(({ how }) => how === 'read').length
  const writes = uses.length - reads
  const isTaken = (id: string) => {
    const { ledger, scenes } = session.getState().story
    return [ledger, ...scenes.map((scene) => scene.ledger)].some((list) => list?.some((one) => one.id === id))
  }
  const turn = (kind: EntryKind) => {
    // what nothing names yet has nothing to be rewritten
    if (uses.length === 0) replace(asKind(entry, kind))
    else setTurning(kind)
  }
  return (
    <Box borderBottom="1px solid" borderColor="hairline" data-ledger={entry.id}>
      <Flex gap="3" pt="1.5" align="baseline" wrap={{ base: 'wrap', lg: 'nowrap' }}>
        <Box w="8.5rem" minW="0" flexShrink={0}>
          <Box fontWeight={600}>
            <DraftText
              label={`Name of the entry ${entry.id}`}
              value={entry.name ?? plainId(entry.id)}
              single
              onCommit={(text) =>
                text.trim() !== '' &&
                session.edit(nameItem(session.getState().story, path, 'entry', entry, at, text, isTaken))
              }
            />
          </Box>
          <EditId
            px="0"
            fontSize="xs"
            title="Rename it everywhere"
            aria-label={`Rename ${entry.id}`}
            onClick={() => things.rename({ of: 'entry', id: entry.id })}
          >
            {entry.id}
          </EditId>
        </Box>
        <EditSelect
          aria-label={`Kind of ${entry.id}`}
          value={entry.kind}
          onChange={(event) => turn(event.target.value as EntryKind)}
        >
          {KINDS.map((kind) => (
            <option key={kind}>{kind}</option>
          ))}
        </EditSelect>
        <Flex gap="3" align="baseline" wrap="wrap" flex="1 1 19rem" minW="0">
          <Details entry={entry} replace={replace} />
          {path.list === 'ledger' && <WhoSets entry={entry} replace={replace} />}
        </Flex>
        <Box flex="1 1 9rem" minW="6rem" color="faded">
          <DraftText
            label={`Group of ${entry.id}`}
            placeholder="group"
            value={entry.group ?? ''}
            single
            onCommit={(group) => replace({ ...entry, group: group.trim() === '' ? undefined : group.trim() })}
          />
          <DraftText
            label={`Note on ${entry.id}`}
            placeholder="note"
            value={entry.notes ?? ''}
            onCommit={(notes) => replace({ ...entry, notes: notes === '' ? undefined : notes })}
          />
        </Box>
        <Quiet
          fontSize="sm"
          w="8.6rem"
          flexShrink={0}
          aria-expanded={open}
          disabled={uses.length === 0}
          onClick={() => setOpen(!open)}
        >
          {uses.length === 0 ? 'not used yet' : `read ${reads}×, changed ${writes}×`}
        </Quiet>
        <CommentMark topic={`entry ${entry.id}`} offer={entry.name ?? entry.id} />
        <EditQuiet
          aria-label={`Merge ${entry.id} into another entry`}
          title="All that names it names another entry instead"
          onClick={() => setMerging(true)}
        >
          Merge
        </EditQuiet>
        <EditQuiet aria-label={`Delete ${entry.id}`} onClick={() => things.remove({ of: 'entry', id: entry.id })}>
          Delete
        </EditQuiet>
      </Flex>
      <Taken entry={entry} taken={taken} reads={reads} writes={writes} near={near} />
      {entry.kind === 'switch' && <Meanings entry={entry} replace={replace} />}
      {open && <Uses uses={uses} />}
      {turning !== undefined && <KindDialog entry={entry} kind={turning} onClose={() => setTurning(undefined)} />}
      {merging && <MergeDialog entry={entry} near={near[0]} onClose={() => setMerging(false)} />}
    </Box>
  )
}

/** What it really holds where the story rests, against what was declared; and what looks like a slip. */
function Taken({
  entry,
  taken,
  reads,
  writes,
  near,
}: {
  entry: Entry
  taken: TakenValues | undefined
  reads: number
  writes: number
  near: readonly string[]
}) {
  const never = taken === undefined || entry.given !== undefined ? [] : neverTaken(entry, taken)
  const remarks = [
    ...(reads === 0 && writes > 0 ? ['nothing reads it'] : []),
    ...(writes === 0 && reads > 0 && entry.given === undefined ? ['nothing changes it'] : []),
    ...(writes > 0 && entry.given !== undefined ? ['effects on it do nothing: the game sets it'] : []),
    ...(taken !== undefined && entry.given === undefined && writes > 0 && taken.values.length === 1 && !taken.anyWord
      ? [`it is never anything but ${sayValues(taken.values)}`]
      : never.length > 0
        ? [`never ${sayValues(never)}`]
        : []),
    ...near.map((other) => `called nearly the same as ${plainId(other)}`),
  ]
  return (
    <Flex gap="3" fontSize="sm" color="faded" pb="1" wrap="wrap">
      <Text data-taken={taken === undefined ? '' : taken.values.join(' ')}>
        {entry.given !== undefined
          ? 'may be any of these: the story is proven for all'
          : taken === undefined
            ? ''
            : `really ${[sayValues(taken.values), ...(taken.anyWord ? ['any other word'] : [])].filter((part) => part !== '').join(', ')}`}
      </Text>
      {remarks.map((remark) => (
        <Text key={remark} color="ochre">
          {remark}
        </Text>
      ))}
    </Flex>
  )
}
