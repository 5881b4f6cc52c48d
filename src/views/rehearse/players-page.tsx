'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import type { PlayState } from '../../core/play/state'
import { bagOf, journalOf } from '../../core/play/told'
import type { LinkedStory } from '../../core/story/linked'

/** What the player would see of it all: the journal with the quests under way, those that are over, and the things carried. */
export function PlayersPage({ linked, state }: { linked: LinkedStory; state: PlayState }) {
  const journal = journalOf(linked, state)
  const open = journal.filter(({ outcome }) => outcome === undefined)
  const over = journal.filter(({ outcome }) => outcome !== undefined)
  const carried = bagOf(linked, state)
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
      {open.map(({ quest, name, stageName, text }) => (
        <Box key={quest} mb="1.5" data-journal={quest}>
          <Text fontWeight={600}>{name}</Text>
          <Text whiteSpace="pre-wrap">{text === undefined || text === '' ? stageName : text}</Text>
        </Box>
      ))}
      {over.map(({ quest, name, stageName }) => (
        <Flex key={quest} gap="2" color="faded" data-journal={quest}>
          <Text as="span" textDecoration="line-through">
            {name}
          </Text>
          <Text as="span">{stageName}</Text>
        </Flex>
      ))}
      <Heading as="h2" fontSize="sm" fontFamily="body" fontWeight={600} color="faded" mt="2" mb="1">
        Carried
      </Heading>
      {carried.length === 0 && <Text color="faded">Nothing.</Text>}
      {carried.map(({ id, name, count }) => (
        <Text key={id} data-carried={id}>
          {name}
          {count > 1 ? ` × ${count}` : ''}
        </Text>
      ))}
    </Box>
  )
}
