'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { api } from '../../session/api'
import { may } from '../../core/contract/access'
import type { Card } from '../../core/contract/answers'
import { Quiet } from '../../ui/buttons'
import { StoryFacts } from './story-facts'

interface Props {
  readonly card: Card
  readonly onDuplicate: () => void
  readonly onDelete: () => void
}

/** One story in the library. */
export function StoryRow({ card, onDuplicate, onDelete }: Props) {
  return (
    <Flex
      data-story={card.id}
      align="baseline"
      gap="3"
      px="4"
      py="3"
      borderBottom="1px solid"
      borderColor="hairline"
      wrap="wrap"
    >
      <Box flex="1" minW="16rem">
        <Text
          as="span"
          fontFamily="story"
          fontSize="lg"
          _hover={{ textDecoration: 'underline', textUnderlineOffset: '4px' }}
        >
          <Link href={`/story/${card.id}/desk`}>{card.title}</Link>
        </Text>
        {card.sample && (
          <Text as="span" ml="2" color="faded" fontSize="sm">
            sample
          </Text>
        )}
        {!may(card.role, 'write') && (
          <Text as="span" ml="2" color="faded" fontSize="sm">
            to read
          </Text>
        )}
        {card.forMe > 0 && (
          <Text as="span" ml="2" color="ochre" fontSize="sm" _hover={{ textDecoration: 'underline' }}>
            <Link href={`/story/${card.id}/comments?which=mine`} title="Comments that name you, or were given to you">
              {card.forMe} for you
            </Link>
          </Text>
        )}
        <StoryFacts card={card} />
      </Box>
      <Flex gap="1">
        <Quiet asChild>
          <a href={api.exportPath(card.id)} download aria-label={`Export ${card.title}`}>
            Export
          </a>
        </Quiet>
        <Quiet aria-label={`Duplicate ${card.title}`} onClick={onDuplicate}>
          Duplicate
        </Quiet>
        {may(card.role, 'own') && (
          <Quiet aria-label={`Delete ${card.title}`} onClick={onDelete}>
            Delete
          </Quiet>
        )}
      </Flex>
    </Flex>
  )
}
