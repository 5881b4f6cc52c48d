'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { mergeEntries } from '../../core/story/rename/merge-entries'
import type { Entry } from '../../core/story/types'
import { Main, Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { Answering } from '../shared/session/answering'
import { NoAnswer } from '../shared/session/no-answer'
import { answerOf, useAnswer } from '../shared/session/use-answer'
import { sayDifference } from '../shared/naming/say-difference'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'

/** Puts another entry in place of this one, after telling what that would do to the verdicts. */
export function MergeDialog({ entry, near, onClose }: { entry: Entry; near: string | undefined; onClose: () => void }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { entries } = useLinked()
  const others = entries.filter(({ id, kind }) => id !== entry.id && kind === entry.kind)
  const [into, setInto] = useState(near ?? '')
  const merged = useMemo(() => (into === '' ? undefined : mergeEntries(story, entry.id, into)), [story, entry.id, into])
  const asked = useAnswer('what-if', merged?.ok ? into : undefined, () =>
    merged?.ok ? { change: merged.value.change } : undefined,
  )
  const compared = answerOf(asked)
  const said = compared === undefined ? [] : sayDifference(story, compared.difference)
  return (
    <Dialog title={`Merge “${plainId(entry.id)}” into another entry`} onClose={onClose}>
      <label>
        All that names {plainId(entry.id)} will name{' '}
        <select
          className="field"
          aria-label="The entry that stays"
          value={into}
          onChange={(event) => setInto(event.target.value)}
        >
          <option value="">…</option>
          {others.map(({ id }) => (
            <option key={id} value={id}>
              {plainId(id)}
            </option>
          ))}
        </select>
      </label>
      {merged !== undefined && !merged.ok && <Text color="needle">{merged.error}</Text>}
      {merged?.ok && (
        <Box
          aria-live="polite"
          data-what-if={compared === undefined ? 'asking' : 'told'}
          maxH="16rem"
          overflowY="auto"
          tabIndex={0}
          role="group"
          aria-label="What it would do"
        >
          <Text>
            {merged.value.mentions} {merged.value.mentions === 1 ? 'place is' : 'places are'} rewritten.
          </Text>
          {asked.status === 'asking' && <Text color="faded">Surveying what would become of the story …</Text>}
          {asked.status === 'asking' && <Answering />}
          {asked.status === 'failed' && <NoAnswer {...asked} />}
          {compared !== undefined && said.length === 0 && <Text color="faded">Every verdict stays as it is.</Text>}
          {said.map((line) => (
            <Text key={line}>{line}</Text>
          ))}
        </Box>
      )}
      <Flex gap="2">
        <Main
          disabled={!merged?.ok}
          onClick={() => {
            if (merged?.ok) session.edit(merged.value.change)
            onClose()
          }}
        >
          Merge them
        </Main>
        <Plain onClick={onClose}>Keep both</Plain>
      </Flex>
    </Dialog>
  )
}
