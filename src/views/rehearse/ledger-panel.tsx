'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import type { PlayedStep } from '../../core/play/transcript'
import type { LinkedQuest, LinkedStory } from '../../core/story/linked'
import type { Entry } from '../../core/story/types'
import { PlayersPage } from './players-page'
import { sayValue } from '../../session/names'

interface Props {
  readonly linked: LinkedStory
  readonly step: PlayedStep
  readonly before: PlayedStep | undefined
  /** What the game sets, each with a control. */
  readonly given: ReactNode
}

/** What the story remembers now; what the last decision changed, and what changed it. */
export function LedgerPanel({ linked, step, before, given }: Props) {
  const { state, changes } = step
  const changesOf = (of: 'entry' | 'quest', id: string) =>
    changes.filter((change) => change.of === of && change.id === id)
  return (
    <Box
      as="aside"
      aria-label="Ledger"
      borderColor="hairline"
      overflowY="auto"
      px="4"
      py="4"
      fontSize="sm"
      tabIndex={-1}
    >
      <PlayersPage linked={linked} state={state} />
      {given}
      <Heading as="h2" fontSize="sm" fontWeight={600} color="faded" mb="2">
        Ledger
      </Heading>
      {linked.entries
        .filter((entry) => entry.given === undefined)
        .map((entry) => (
          <Row
            key={entry.id}
            name={entry.entry.name ?? plainId(entry.id)}
            id={entry.id}
            value={sayValue(state.entries[entry.index])}
            meaning={meaningOf(entry.entry, state.entries[entry.index])}
            changes={changesOf('entry', entry.id)}
            was={before && sayValue(before.state.entries[entry.index])}
          />
        ))}
      {linked.entries.length === 0 && <Text color="faded">The story remembers nothing yet.</Text>}
      {linked.quests.length > 0 && (
        <Heading as="h2" fontSize="sm" fontWeight={600} color="faded" mt="4" mb="2">
          Quests
        </Heading>
      )}
      {linked.quests.map((quest) => (
        <Row
          key={quest.id}
          name={quest.name}
          id={quest.id}
          value={stageName(quest, state.stages[quest.index]!)}
          changes={changesOf('quest', quest.id)}
          was={before && stageName(quest, before.state.stages[quest.index]!)}
        />
      ))}
      {state.place !== -1 && (
        <Text mt="4" color="faded">
          Place to come back to: {linked.beats[state.place]!.address.replace('.', ' · ').replaceAll('_', ' ')}
        </Text>
      )}
    </Box>
  )
}

function stageName(quest: LinkedQuest, stage: number): string {
  return stage === 0 ? 'not started' : quest.names[stage]!
}

/** What the position that a switch is at stands for. */
function meaningOf(entry: Entry, value: unknown): string | undefined {
  return entry.kind === 'switch' ? entry.meanings?.[String(value)] : undefined
}

function Row({
  name,
  id,
  value,
  meaning,
  was,
  changes,
}: {
  name: string
  id: string
  value: string
  meaning?: string | undefined
  was: string | undefined
  changes: PlayedStep['changes']
}) {
  const changed = was !== undefined && was !== value
  return (
    <Box py="0.5" px="1.5" mx="-1.5" bg={changed ? 'kept.wash' : undefined} data-entry={id}>
      <Flex justify="space-between" gap="3">
        <Text>{name}</Text>
        <Text fontWeight={changed ? 600 : 400} textAlign="right">
          {changed && (
            <Text as="span" color="faded" fontWeight={400}>
              {was} →{' '}
            </Text>
          )}
          <span data-value="">{value}</span>
        </Text>
      </Flex>
      {meaning !== undefined && (
        <Text color="faded" fontSize="xs" textAlign="right">
          {meaning}
        </Text>
      )}
      {changes.map((change, at) => (
        <Text key={at} color="faded" fontSize="xs">
          by {change.owner.replace('#', ' ')}
          {change.overrun ? ' (stopped at the end of its range)' : ''}
        </Text>
      ))}
    </Box>
  )
}
