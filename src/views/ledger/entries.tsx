'use client'

import { Box, Heading } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { freshId, idFrom } from '../../core/base/ids'
import { nearlySame } from '../../core/base/near-names'
import type { Use } from '../../core/story/linked'
import type { ListPath } from '../../core/story/changes/types'
import type { Entry, EntryKind } from '../../core/story/types'
import { KINDS, KIND_HINTS, newEntry } from '../shared/entry-kinds'
import { useLinked, useSession, useSessionState } from '../shared/use-session'
import { AddForm } from '../shared/add-form'
import { EntryRow } from './entry-row'
import { useAnswer } from '../shared/use-answer'
import { Section } from './section'
import { TableFile } from './table-file'

interface Group {
  readonly title: string
  readonly path: ListPath
  readonly entries: readonly { readonly entry: Entry; readonly at: number }[]
}

const STORY = { list: 'ledger' } as const
const NO_USES: readonly Use[] = []
const NO_NAMES: readonly string[] = []

/** For each name those that may be a slip for it, or it for them. */
function nearNames(names: readonly string[]): ReadonlyMap<string, readonly string[]> {
  const near = new Map<string, readonly string[]>()
  for (const name of names) {
    const others = names.filter((other) => nearlySame(name, other))
    if (others.length > 0) near.set(name, others)
  }
  return near
}

/** All that the story remembers, by group; a scene's own entries under the scene. */
export function Entries() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { uses, entries } = useLinked()
  const [kind, setKind] = useState<EntryKind>('flag')
  const [scene, setScene] = useState('')
  const groups = useMemo(() => groupsOf(story.ledger ?? [], story.scenes), [story.ledger, story.scenes])
  const byEntry = useMemo(() => {
    const found = new Map<string, Use[]>()
    for (const use of uses) {
      if (use.of !== 'entry') continue
      const list = found.get(use.id)
      if (list === undefined) found.set(use.id, [use])
      else list.push(use)
    }
    return found
  }, [uses])
  const { answer: taken } = useAnswer('values', () => session.entryValues())
  const near = useMemo(() => nearNames(entries.map(({ id }) => id)), [entries])
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'entry'), (taken) => entries.some((entry) => entry.id === taken))
    const path: ListPath = scene === '' ? STORY : { list: 'sceneLedger', scene }
    const at = scene === '' ? (story.ledger?.length ?? 0) : (story.scenes.find((one) => one.id === scene)?.ledger?.length ?? 0)
    session.edit({ op: 'insert', in: path, at, item: newEntry(kind, id) })
  }
  return (
    <Section title="Ledger" hint="What the story has to remember. Gates read it, effects change it.">
      <TableFile />
      {groups.map((group) => (
        <Box key={group.title} mb="3">
          {group.title !== '' && (
            <Heading as="h3" fontSize="sm" fontWeight={600} color="faded" mt="3">
              {group.title}
            </Heading>
          )}
          {group.entries.map(({ entry, at }) => (
            <EntryRow key={entry.id} entry={entry} at={at} path={group.path} uses={byEntry.get(entry.id) ?? NO_USES} taken={taken?.[entry.id]} near={near.get(entry.id) ?? NO_NAMES} />
          ))}
        </Box>
      ))}
      <AddForm label="Name of a new entry" placeholder="toll paid" action="Remember it" onAdd={add}>
        <select className="field" aria-label="Kind of the new entry" value={kind} onChange={(event) => setKind(event.target.value as EntryKind)}>
          {KINDS.map((one) => (
            <option key={one} value={one}>
              {one}: {KIND_HINTS[one]}
            </option>
          ))}
        </select>
        <select className="field" aria-label="Where it is remembered" value={scene} onChange={(event) => setScene(event.target.value)}>
          <option value="">in the whole story</option>
          {story.scenes.map(({ id, title }) => (
            <option key={id} value={id}>
              only inside “{title}”
            </option>
          ))}
        </select>
      </AddForm>
    </Section>
  )
}

function groupsOf(ledger: readonly Entry[], scenes: readonly { readonly id: string; readonly title: string; readonly ledger?: readonly Entry[] | undefined }[]): Group[] {
  const titles = [...new Set(ledger.map(({ group }) => group ?? ''))].sort((a, b) => (a === '' ? -1 : b === '' ? 1 : 0))
  const listed = ledger.map((entry, at) => ({ entry, at }))
  return [
    ...titles.map((title): Group => ({ title, path: STORY, entries: listed.filter(({ entry }) => (entry.group ?? '') === title) })),
    ...scenes.flatMap((scene): Group[] =>
      scene.ledger === undefined || scene.ledger.length === 0 ? [] : [{ title: `Only inside “${scene.title}”, begun anew each time one comes there`, path: { list: 'sceneLedger', scene: scene.id }, entries: scene.ledger.map((entry, at) => ({ entry, at })) }],
    ),
  ]
}
