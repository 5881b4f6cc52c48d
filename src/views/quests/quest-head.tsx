'use client'

import { Box, Flex } from '@chakra-ui/react'
import type { Quest } from '../../core/story/types'
import { DraftText } from '../shared/fields/draft-text'
import { useThings } from '../shared/naming/things'
import { EditId, EditQuiet } from '../shared/fields/edits'

/** The quest's name, its name in expressions, and a note. */
export function QuestHead({
  quest,
  onChange,
  onName,
}: {
  quest: Quest
  onChange: (quest: Quest) => void
  onName: (name: string) => void
}) {
  const things = useThings()
  return (
    <>
      <Flex gap="3" align="baseline">
        <Box flex="1" fontFamily="story" fontSize="xl">
          <DraftText
            label={`Name of the quest ${quest.id}`}
            value={quest.name}
            single
            onCommit={(text) => text.trim() !== '' && onName(text)}
          />
        </Box>
        <EditId
          title="Rename it everywhere"
          aria-label={`Rename ${quest.id}`}
          onClick={() => things.rename({ of: 'quest', id: quest.id })}
        >
          quest.{quest.id}
        </EditId>
        <EditQuiet aria-label={`Delete ${quest.name}`} onClick={() => things.remove({ of: 'quest', id: quest.id })}>
          Delete
        </EditQuiet>
      </Flex>
      <Box color="faded" mb="2">
        <DraftText
          label={`Note on the quest ${quest.id}`}
          placeholder="note"
          value={quest.notes ?? ''}
          onCommit={(notes) => onChange({ ...quest, notes: notes === '' ? undefined : notes })}
        />
      </Box>
    </>
  )
}
