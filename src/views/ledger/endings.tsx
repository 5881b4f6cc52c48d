'use client'

import { Box, Flex } from '@chakra-ui/react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import { nameItem } from '../../core/story/reshape/naming'
import { VerdictMark } from '../../ui/marks'
import { DraftText } from '../shared/fields/draft-text'
import { useThings } from '../shared/naming/things'
import { useSession, useSessionState } from '../shared/session/use-session'
import { verdictOf } from '../shared/session/verdicts'
import { AddForm } from '../shared/fields/add-form'
import { Section } from './section'
import { EditId, EditQuiet } from '../shared/fields/edits'

/** The ways in which the story can end. */
export function Endings() {
  const session = useSession()
  const things = useThings()
  const endings = useSessionState((state) => state.story.endings) ?? []
  const result = useSessionState((state) => state.survey.report)
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'ending'), (taken) => endings.some((ending) => ending.id === taken))
    session.edit({ op: 'insert', in: { list: 'endings' }, at: endings.length, item: { id, name } })
  }
  return (
    <Section title="Endings" hint="How the story can end. A beat carries an ending on the Desk.">
      {endings.map((ending, at) => {
        const replace = (keys: Partial<typeof ending>) =>
          session.edit({ op: 'replace', in: { list: 'endings' }, id: ending.id, at, item: { ...ending, ...keys } })
        return (
          <Flex
            key={ending.id}
            gap="3"
            py="1"
            borderBottom="1px solid"
            borderColor="hairline"
            align="center"
            data-ending={ending.id}
          >
            <VerdictMark verdict={verdictOf(result, 'endings', ending.id)} size={9} />
            <Box w="16rem" fontWeight={600}>
              <DraftText
                label={`Name of the ending ${ending.id}`}
                value={ending.name}
                single
                onCommit={(text) =>
                  text.trim() !== '' &&
                  session.edit(
                    nameItem(session.getState().story, { list: 'endings' }, 'ending', ending, at, text, (id) =>
                      endings.some((one) => one.id === id),
                    ),
                  )
                }
              />
            </Box>
            <Box flex="1" color="faded">
              <DraftText
                label={`Note on ${ending.name}`}
                placeholder="note"
                value={ending.notes ?? ''}
                onCommit={(notes) => replace({ notes: notes === '' ? undefined : notes })}
              />
            </Box>
            <EditId
              title="Rename it everywhere"
              aria-label={`Rename ${ending.id}`}
              onClick={() => things.rename({ of: 'ending', id: ending.id })}
            >
              {ending.id}
            </EditId>
            <EditQuiet
              aria-label={`Delete ${ending.name}`}
              onClick={() => things.remove({ of: 'ending', id: ending.id })}
            >
              Delete
            </EditQuiet>
          </Flex>
        )
      })}
      <AddForm label="Name of a new ending" placeholder="Across in time" action="Add an ending" onAdd={add} />
    </Section>
  )
}
