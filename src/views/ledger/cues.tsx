'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import { cueUses } from '../../core/story/cue-uses'
import { nameItem } from '../../core/story/reshape/naming'
import type { Cue } from '../../core/story/types'
import { sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { AddForm } from '../shared/fields/add-form'
import { DraftText } from '../shared/fields/draft-text'
import { useThings } from '../shared/naming/things'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { Section } from './section'
import { said } from '../shared/said'
import { EditId, EditQuiet } from '../shared/fields/edits'

const NONE: readonly string[] = []

/** What the game is told to do beside the text. */
export function Cues() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const cues = story.cues ?? []
  const uses = useMemo(() => cueUses(story), [story])
  const add = (name: string) => {
    const id = freshId(idFrom(name, 'cue'), (taken) => cues.some((cue) => cue.id === taken))
    session.edit({ op: 'insert', in: { list: 'cues' }, at: cues.length, item: { id, name } })
  }
  return (
    <Section
      title="Cues"
      hint="What the game is told to do beside the text: a sound, a gesture, a wait. Lines and choices issue them on the Desk; the course of the story never depends on them."
    >
      {cues.map((cue, at) => (
        <CueRow key={cue.id} cue={cue} at={at} uses={uses.get(cue.id) ?? NONE} />
      ))}
      <AddForm label="Name of a new cue" placeholder="The tide bell rings" action="Add a cue" onAdd={add} />
    </Section>
  )
}

function CueRow({ cue, at, uses }: { cue: Cue; at: number; uses: readonly string[] }) {
  const story = useSessionState((state) => state.story)
  const session = useSession()
  const things = useThings()
  const goTo = useGoTo()
  const [open, setOpen] = useState(false)
  const replace = (keys: Partial<Cue>) =>
    session.edit({ op: 'replace', in: { list: 'cues' }, id: cue.id, at, item: { ...cue, ...keys } })
  return (
    <Box borderBottom="1px solid" borderColor="hairline" data-cue={cue.id}>
      <Flex gap="3" py="1" align="center">
        <Box w="16rem" fontWeight={600}>
          <DraftText
            label={`Name of the cue ${cue.id}`}
            value={cue.name}
            single
            onCommit={(text) =>
              text.trim() !== '' &&
              session.edit(
                nameItem(session.getState().story, { list: 'cues' }, 'cue', cue, at, text, (id) =>
                  (session.getState().story.cues ?? []).some((one) => one.id === id),
                ),
              )
            }
          />
        </Box>
        <Box flex="1" color="faded">
          <DraftText
            label={`Note on the cue ${cue.id}`}
            placeholder="note"
            value={cue.notes ?? ''}
            onCommit={(notes) => replace({ notes: notes === '' ? undefined : notes })}
          />
        </Box>
        {uses.length === 0 ? (
          <Text color="ochre" fontSize="sm">
            never issued
          </Text>
        ) : (
          <Quiet fontSize="sm" aria-expanded={open} onClick={() => setOpen(!open)}>
            issued in {said(uses.length, 'place')}
          </Quiet>
        )}
        <EditId
          fontSize="sm"
          title="Rename it everywhere"
          aria-label={`Rename ${cue.id}`}
          onClick={() => things.rename({ of: 'cue', id: cue.id })}
        >
          {cue.id}
        </EditId>
        <EditQuiet aria-label={`Delete ${cue.name}`} onClick={() => things.remove({ of: 'cue', id: cue.id })}>
          Delete
        </EditQuiet>
      </Flex>
      {open &&
        uses.map((address) => (
          <Box key={address} pl="9">
            <Quiet fontSize="sm" onClick={() => goTo(address)}>
              {sayAddress(address, story)}
            </Quiet>
          </Box>
        ))}
    </Box>
  )
}
