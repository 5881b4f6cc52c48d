'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import type { Term } from '../../core/story/types'
import { Dialog } from '../../ui/dialog'
import { AddForm } from '../shared/fields/add-form'
import { DraftText } from '../shared/fields/draft-text'
import { useSession, useSessionState } from '../shared/session/use-session'
import { EditQuiet } from '../shared/fields/edits'

const NONE: readonly Term[] = []

/** What is called by one name everywhere, beside the people, endings, quests and stages. */
export function Glossary({ onClose }: { onClose: () => void }) {
  const session = useSession()
  const terms = useSessionState((state) => state.story.terms ?? NONE)
  const path = { list: 'terms' } as const
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'term'), (taken) => terms.some((term) => term.id === taken))
    session.edit({ op: 'insert', in: path, at: terms.length, item: { id, name } })
  }
  const replace = (term: Term, at: number, keys: Partial<Term>) =>
    session.edit({ op: 'replace', in: path, id: term.id, at, item: { ...term, ...keys } })
  return (
    <Dialog title="Glossary" onClose={onClose} wide>
      <Text color="faded">
        What is called by one name everywhere. Its translations stand in the table with all texts; where the term stands
        in a source, and its translation not in the text, the row says so. People, endings, quests and stages are held
        to theirs as well.
      </Text>
      <Box overflowY="auto" maxH="50vh">
        {terms.map((term, at) => (
          <Flex key={term.id} gap="3" py="1" align="center" borderBottom="1px solid" borderColor="hairline">
            <Box w="14rem" fontWeight={600}>
              <DraftText
                label={`Term ${term.name}`}
                value={term.name}
                single
                onCommit={(name) => name.trim() !== '' && name !== term.name && replace(term, at, { name })}
              />
            </Box>
            <Box flex="1" color="faded">
              <DraftText
                label={`What to know about ${term.name}`}
                placeholder="what to know about it"
                value={term.notes ?? ''}
                onCommit={(notes) => replace(term, at, { notes: notes === '' ? undefined : notes })}
              />
            </Box>
            <EditQuiet
              aria-label={`Delete ${term.name}`}
              onClick={() => session.edit({ op: 'remove', in: path, id: term.id, at })}
            >
              Delete
            </EditQuiet>
          </Flex>
        ))}
      </Box>
      <AddForm label="A new term" placeholder="the Reach" action="Add a term" onAdd={add} />
    </Dialog>
  )
}
