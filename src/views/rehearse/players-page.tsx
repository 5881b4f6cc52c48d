'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import type { PlayState } from '../../core/play/state'
import { formatText } from '../../core/play/text'
import type { LinkedQuest, LinkedStory } from '../../core/story/linked'

/** What the player would see of it all: the journal with the quests under way, those that are over, and the things carried. */
export function PlayersPage({ linked, state }: { linked: LinkedStory; state: PlayState }) {
  const begun = linked.quests.filter((quest) => state.stages[quest.index] !== 0)
  const open = begun.filter((quest) => quest.outcomes[state.stages[quest.index]!] === undefined)
  const over = begun.filter((quest) => quest.outcomes[state.stages[quest.index]!] !== undefined)
  const carried = linked.entries.filter(({ kind, index }) => kind === 'item' && Number(state.entries[index]) > 0)
  if (linked.quests.length === 0 && !linked.entries.some(({ kind }) => kind === 'item')) return null
  return (
    <Box
      as="section"
      aria-label="As the player sees it"
      bg="sheet"
      border="1px solid"
      borderColor="hairline"
      borderRadius="sheet"
      px="3"
      py="2"
      mb="4"
      fontFamily="story"
    >
      <Heading as="h2" fontSize="sm" fontFamily="body" fontWeight={600} color="faded" mb="1">
        Journal
      </Heading>
      {open.length === 0 && <Text color="faded">No quest is under way.</Text>}
      {open.map((quest) => (
        <Entry key={quest.id} linked={linked} state={state} quest={quest} stage={state.stages[quest.index]!} />
      ))}
      {over.map((quest) => (
        <Flex key={quest.id} gap="2" color="faded" data-journal={quest.id}>
          <Text as="span" textDecoration="line-through">
            {quest.name}
          </Text>
          <Text as="span">{quest.names[state.stages[quest.index]!]}</Text>
        </Flex>
      ))}
      <Heading as="h2" fontSize="sm" fontFamily="body" fontWeight={600} color="faded" mt="2" mb="1">
        Carried
      </Heading>
      {carried.length === 0 && <Text color="faded">Nothing.</Text>}
      {carried.map(({ id, index }) => (
        <Text key={id} data-carried={id}>
          {plainId(id)}
          {Number(state.entries[index]) > 1 ? ` × ${String(state.entries[index])}` : ''}
        </Text>
      ))}
    </Box>
  )
}

function Entry({
  linked,
  state,
  quest,
  stage,
}: {
  linked: LinkedStory
  state: PlayState
  quest: LinkedQuest
  stage: number
}) {
  const journal = linked.journals.get(`${quest.id}.${quest.stages[stage]!}`)
  const written = journal && formatText(linked, state, journal)
  return (
    <Box mb="1.5" data-journal={quest.id}>
      <Text fontWeight={600}>{quest.name}</Text>
      <Text whiteSpace="pre-wrap">{written === undefined || written === '' ? quest.names[stage] : written}</Text>
    </Box>
  )
}
