'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { freshId, plainId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import { nearlySame } from '../../core/base/near-names'
import { usesIn } from '../../core/story/uses'
import type { Use } from '../../core/story/linked'
import type { ListPath } from '../../core/story/changes/types'
import type { Entry, EntryKind, WhenGiven } from '../../core/story/types'
import { GIVEN, KINDS, KIND_HINTS, newEntry } from '../shared/new/entry-kinds'
import { useGrowing } from '../../ui/use-growing'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'
import { AddForm } from '../shared/fields/add-form'
import { EntryRow } from './entry-row'
import { NoAnswer } from '../shared/session/no-answer'
import { answerOf, useAnswer } from '../shared/session/use-answer'
import { Section } from './section'
import { TableFile } from './table-file'

interface Group {
  readonly title: string
  readonly path: ListPath
  readonly entries: readonly { readonly entry: Entry; readonly at: number }[]
}

const STORY = { list: 'ledger' } as const
/** Entries that are drawn at a time. */
const STEP = 40
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
  const linked = useLinked()
  const { entries } = linked
  const [kind, setKind] = useState<EntryKind>('flag')
  const [scene, setScene] = useState('')
  const [given, setGiven] = useState<WhenGiven | ''>('')
  const [search, setSearch] = useState('')
  const groups = useMemo(
    () => groupsOf(story.ledger ?? [], story.scenes, search.trim().toLowerCase()),
    [story.ledger, story.scenes, search],
  )
  const { shown, end } = useGrowing(
    groups.reduce((sum, group) => sum + group.entries.length, 0),
    STEP,
  )
  const byEntry = useMemo(() => {
    const found = new Map<string, Use[]>()
    for (const use of usesIn(linked)) {
      if (use.of !== 'entry') continue
      const list = found.get(use.id)
      if (list === undefined) found.set(use.id, [use])
      else list.push(use)
    }
    return found
  }, [linked])
  const asked = useAnswer('entry-values', 'all', () => ({}))
  const taken = answerOf(asked)
  const near = useMemo(() => nearNames(entries.map(({ id }) => id)), [entries])
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'entry'), (taken) => entries.some((entry) => entry.id === taken))
    const path: ListPath = scene === '' ? STORY : { list: 'sceneLedger', scene }
    const at =
      scene === '' ? (story.ledger?.length ?? 0) : (story.scenes.find((one) => one.id === scene)?.ledger?.length ?? 0)
    const item = newEntry(kind, id)
    if (name !== plainId(id)) item.name = name
    if (scene === '' && given !== '') item.given = given
    session.edit({ op: 'insert', in: path, at, item })
  }
  return (
    <Section title="Ledger" hint="What the story has to remember. Gates read it, effects change it.">
      <Flex gap="4" align="center" my="1">
        <Box asChild className="field" w="17rem">
          <input
            type="search"
            aria-label="Search the ledger"
            placeholder="Search names, groups and notes"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </Box>
        <TableFile />
      </Flex>
      {asked.status === 'failed' && <NoAnswer {...asked} />}
      {groups.length === 0 && search !== '' && <Text color="faded">No entry is like that.</Text>}
      {firstOf(groups, shown).map((group) => (
        <Box key={group.title} mb="3">
          {group.title !== '' && (
            <Heading as="h3" fontSize="sm" fontWeight={600} color="faded" mt="3">
              {group.title}
            </Heading>
          )}
          {group.entries.map(({ entry, at }) => (
            <EntryRow
              key={entry.id}
              entry={entry}
              at={at}
              path={group.path}
              uses={byEntry.get(entry.id) ?? NO_USES}
              taken={taken?.[entry.id]}
              near={near.get(entry.id) ?? NO_NAMES}
            />
          ))}
        </Box>
      ))}
      {end}
      <AddForm label="Name of a new entry" placeholder="toll paid" action="Remember it" onAdd={add}>
        <select
          className="field"
          aria-label="Kind of the new entry"
          value={kind}
          onChange={(event) => setKind(event.target.value as EntryKind)}
        >
          {KINDS.map((one) => (
            <option key={one} value={one}>
              {one}: {KIND_HINTS[one]}
            </option>
          ))}
        </select>
        <select
          className="field"
          aria-label="Where it is remembered"
          value={scene}
          onChange={(event) => setScene(event.target.value)}
        >
          <option value="">in the whole story</option>
          {story.scenes.map(({ id, title }) => (
            <option key={id} value={id}>
              only inside “{title}”
            </option>
          ))}
        </select>
        {scene === '' && (
          <select
            className="field"
            aria-label="Who sets the new entry"
            value={given}
            onChange={(event) => setGiven(event.target.value as WhenGiven | '')}
          >
            {GIVEN.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        )}
      </AddForm>
    </Section>
  )
}

/** Groups as far as so many entries go. */
function firstOf(groups: readonly Group[], count: number): Group[] {
  let left = count
  return groups.flatMap((group): Group[] => {
    const entries = group.entries.slice(0, left)
    left -= entries.length
    return entries.length === 0 ? [] : [{ ...group, entries }]
  })
}

function groupsOf(
  ledger: readonly Entry[],
  scenes: readonly { readonly id: string; readonly title: string; readonly ledger?: readonly Entry[] | undefined }[],
  wanted: string,
): Group[] {
  const passes = ({ entry }: { readonly entry: Entry }) =>
    wanted === '' ||
    [plainId(entry.id), entry.id, entry.group ?? '', entry.notes ?? ''].some((text) =>
      text.toLowerCase().includes(wanted),
    )
  const titles = [...new Set(ledger.map(({ group }) => group ?? ''))].sort((a, b) => (a === '' ? -1 : b === '' ? 1 : 0))
  const listed = ledger.map((entry, at) => ({ entry, at }))
  return [
    ...titles.flatMap((title): Group[] => {
      const entries = listed.filter((one) => (one.entry.group ?? '') === title && passes(one))
      return entries.length === 0 ? [] : [{ title, path: STORY, entries }]
    }),
    ...scenes.flatMap((scene): Group[] => {
      const entries = (scene.ledger ?? []).map((entry, at) => ({ entry, at })).filter(passes)
      return entries.length === 0
        ? []
        : [
            {
              title: `Only inside “${scene.title}”, begun anew each time one comes there`,
              path: { list: 'sceneLedger', scene: scene.id },
              entries,
            },
          ]
    }),
  ]
}
