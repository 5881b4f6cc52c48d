'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import { stageBetween } from '../../core/story/quests/stage-between'
import type { Quest } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'
import { rowName } from '../../session/say-finding'
import { Main, Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { useSession, useSessionState } from '../shared/session/use-session'
import type { TrackMove } from './track-layout'

interface Props {
  readonly quest: Quest
  readonly move: TrackMove
  readonly facts: QuestFacts | undefined
  readonly name: (id: string) => string
  readonly onClose: () => void
}

/** Puts a stage between two others, and asks which of the effects that made the old move shall lead to it. */
export function BetweenDialog({ quest, move, facts, name, onClose }: Props) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const [text, setText] = useState('')
  const owners = (facts?.moves.find(({ from, to }) => from === move.from && to === move.to)?.by ?? []).map(
    ({ owner }) => owner,
  )
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const [trouble, setTrouble] = useState<string>()
  const put = () => {
    const id = freshId(idFrom(text, 'stage'), (taken) => quest.stages.some((stage) => stage.id === taken))
    const made = stageBetween(story, {
      quest: quest.id,
      from: move.from,
      to: move.to,
      stage: { id, name: text.trim() },
      repoint: owners.filter((owner) => !left.has(owner)),
    })
    if (!made.ok) return setTrouble(made.error)
    session.edit(made.value)
    onClose()
  }
  return (
    <Dialog title={`A stage between “${name(move.from)}” and “${name(move.to)}”`} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim() !== '') put()
        }}
      >
        <Box asChild className="field" w="100%">
          <input
            autoFocus
            aria-label="Name of the new stage"
            placeholder="Rope found"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Box>
        {owners.length > 0 && (
          <Box mt="3" role="group" aria-label="What shall lead to the new stage">
            <Text>What made the old move now leads to the new stage:</Text>
            {owners.map((owner) => (
              <Box as="label" key={owner} display="block">
                <input
                  type="checkbox"
                  checked={!left.has(owner)}
                  onChange={() => {
                    const next = new Set(left)
                    if (!next.delete(owner)) next.add(owner)
                    setLeft(next)
                  }}
                />{' '}
                {rowName(story, owner)}
              </Box>
            ))}
            <Text color="faded" mt="1">
              Until something moves the quest on from it, Bearings says that “{name(move.to)}” is reached no more.
            </Text>
          </Box>
        )}
        {trouble !== undefined && (
          <Text role="alert" color="needle">
            {trouble}
          </Text>
        )}
        <Flex gap="2" mt="4">
          <Main type="submit" disabled={text.trim() === ''}>
            Put it between
          </Main>
          <Plain type="button" onClick={onClose}>
            Cancel
          </Plain>
        </Flex>
      </form>
    </Dialog>
  )
}
