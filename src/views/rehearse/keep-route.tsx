'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId, plainId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import type { PlayState } from '../../core/play/state'
import type { LinkedStory } from '../../core/story/linked'
import type { RouteItem, Expectation, Route } from '../../core/story/types'
import { sayValue } from '../../session/names'
import { Main, Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { useSession } from '../shared/session/use-session'

interface Props {
  readonly linked: LinkedStory
  readonly state: PlayState
  readonly decisions: readonly RouteItem[]
  readonly onClose: () => void
}

/** Keeps the run so far as a route, with what it is expected to come to. */
export function KeepRoute({ linked, state, decisions, onClose }: Props) {
  const session = useSession()
  const ending = state.status === 'ended' ? linked.endings[linked.beats[state.at]!.ending] : undefined
  const stages = linked.quests.filter((quest) => state.stages[quest.index] !== 0)
  const [name, setName] = useState(ending?.name ?? '')
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set(linked.entries.map(({ id }) => `entry ${id}`)))
  const toggle = (key: string) => {
    const next = new Set(left)
    if (!next.delete(key)) next.add(key)
    setLeft(next)
  }
  const line = (key: string, words: string) => (
    <Box as="label" key={key} display="block">
      <input type="checkbox" checked={!left.has(key)} onChange={() => toggle(key)} /> {words}
    </Box>
  )
  const keep = () => {
    const routes = session.getState().story.routes ?? []
    const id = freshId(idFrom(name, 'route'), (taken) => routes.some((route) => route.id === taken))
    const expect: Expectation = {}
    if (ending !== undefined && !left.has('ending')) expect.ending = ending.id
    const wanted = stages.filter((quest) => !left.has(`quest ${quest.id}`))
    if (wanted.length > 0)
      expect.stages = Object.fromEntries(wanted.map((quest) => [quest.id, quest.stages[state.stages[quest.index]!]!]))
    const held = linked.entries.filter((entry) => !left.has(`entry ${entry.id}`))
    if (held.length > 0)
      expect.ledger = Object.fromEntries(held.map((entry) => [entry.id, state.entries[entry.index]!]))
    const item: Route = {
      id,
      name: name.trim(),
      decisions: [...decisions],
      ...(Object.keys(expect).length === 0 ? {} : { expect }),
    }
    session.edit({ op: 'insert', in: { list: 'routes' }, at: routes.length, item })
    onClose()
  }
  return (
    <Dialog title="Keep this run as a route" onClose={onClose}>
      <Text color="faded">
        It is played again after every edit. When one of its {decisions.length} decisions can no longer be taken, or it
        does not come to what is expected, Bearings says so.
      </Text>
      <Box asChild className="field" w="100%">
        <input
          autoFocus
          aria-label="Name of the route"
          placeholder="Quick crossing"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Box>
      <Box overflowY="auto" tabIndex={0} role="group" aria-label="What is expected" maxH="16rem">
        <Text fontWeight={600}>Expected at its end</Text>
        {ending !== undefined && line('ending', `it ends with “${ending.name}”`)}
        {stages.map((quest) => line(`quest ${quest.id}`, `${quest.name}: ${quest.names[state.stages[quest.index]!]}`))}
        {linked.entries.map((entry) =>
          line(`entry ${entry.id}`, `${plainId(entry.id)}: ${sayValue(state.entries[entry.index])}`),
        )}
      </Box>
      <Flex gap="2">
        <Main disabled={name.trim() === ''} onClick={keep}>
          Keep it
        </Main>
        <Plain onClick={onClose}>Cancel</Plain>
      </Flex>
    </Dialog>
  )
}
