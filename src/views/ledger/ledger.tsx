'use client'

import { Box } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId, idFrom } from '../../core/base/ids'
import type { EntryKind } from '../../core/story/types'
import { useLinked, useSession, useSessionState } from '../shared/use-session'
import { EntryRow } from './entry-row'
import { KINDS, KIND_HINTS, newEntry } from '../shared/entry-kinds'
import { Cast } from './cast'
import { Endings } from './endings'
import { Quests } from './quests'
import { AddForm } from './add-form'
import { Section } from './section'

/** What the story remembers, who is in it, and which quests it runs. */
export function Ledger() {
  return (
    <Box as="main" overflowY="auto" h="100%" px="6" py="5" tabIndex={-1}>
      <Box maxW="66rem" mx="auto">
        <Entries />
        <Quests />
        <Endings />
        <Cast />
      </Box>
    </Box>
  )
}

function Entries() {
  const session = useSession()
  const ledger = useSessionState((state) => state.story.ledger) ?? []
  const { uses, entries } = useLinked()
  const [kind, setKind] = useState<EntryKind>('flag')
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'entry'), (taken) => entries.some((entry) => entry.id === taken))
    session.edit({ op: 'insert', in: { list: 'ledger' }, at: ledger.length, item: newEntry(kind, id) })
  }
  return (
    <Section title="Ledger" hint="What the story has to remember. Gates read it, effects change it.">
      {ledger.map((entry, at) => (
        <EntryRow
          key={entry.id}
          entry={entry}
          at={at}
          reads={uses.filter((use) => use.of === 'entry' && use.id === entry.id && use.how === 'read').length}
          writes={uses.filter((use) => use.of === 'entry' && use.id === entry.id && use.how === 'write').length}
        />
      ))}
      <AddForm label="Name of a new entry" placeholder="toll paid" action="Remember it" onAdd={add}>
        <select className="field" aria-label="Kind of the new entry" value={kind} onChange={(event) => setKind(event.target.value as EntryKind)}>
          {KINDS.map((one) => (
            <option key={one} value={one}>
              {one}: {KIND_HINTS[one]}
            </option>
          ))}
        </select>
      </AddForm>
    </Section>
  )
}
