'use client'

import { Box, Flex } from '@chakra-ui/react'
import { freshId, idFrom } from '../../core/base/ids'
import { Quiet } from '../../ui/buttons'
import { DraftText } from '../shared/draft-text'
import { useThings } from '../shared/things'
import { useSession, useSessionState } from '../shared/use-session'
import { AddForm } from '../shared/add-form'
import { Section } from './section'

/** The people and things that speak or are met. */
export function Cast() {
  const session = useSession()
  const things = useThings()
  const cast = useSessionState((state) => state.story.cast) ?? []
  const add = (name: string) => {
    const id = freshId(idFrom(name.split(/\s+/)[0]!, 'person'), (taken) => cast.some((person) => person.id === taken))
    session.edit({ op: 'insert', in: { list: 'cast' }, at: cast.length, item: { id, name } })
  }
  return (
    <Section title="Cast" hint="Who speaks or is met. On the Desk a name and a colon at the start of a line makes that person the speaker.">
      {cast.map((person, at) => {
        const replace = (keys: Partial<typeof person>) => session.edit({ op: 'replace', in: { list: 'cast' }, id: person.id, at, item: { ...person, ...keys } })
        return (
          <Flex key={person.id} gap="3" py="1" borderBottom="1px solid" borderColor="hairline" align="baseline" data-person={person.id}>
            <Box w="14rem" fontWeight={600}>
              <DraftText label={`Name of ${person.id}`} value={person.name} single onCommit={(text) => text.trim() !== '' && replace({ name: text.trim() })} />
            </Box>
            <Box flex="1" color="faded">
              <DraftText label={`Note on ${person.name}`} placeholder="note" value={person.notes ?? ''} onCommit={(notes) => replace({ notes: notes === '' ? undefined : notes })} />
            </Box>
            <Quiet aria-label={`Delete ${person.name}`} onClick={() => things.remove({ of: 'person', id: person.id })}>
              Delete
            </Quiet>
          </Flex>
        )
      })}
      <AddForm label="Name of somebody new" placeholder="Odile Marsh" action="Add to the cast" onAdd={add} />
    </Section>
  )
}
