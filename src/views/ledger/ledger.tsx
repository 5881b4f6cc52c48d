'use client'

import { Box } from '@chakra-ui/react'
import { Cast } from './cast'
import { Cues } from './cues'
import { Endings } from './endings'
import { Entries } from './entries'
import { StoryFacts } from './story-facts'

/** What the story remembers, who is in it and how it can end. */
export function Ledger() {
  return (
    <Box as="main" overflowY="auto" h="100%" px="6" py="5" tabIndex={-1}>
      <Box maxW="66rem" mx="auto">
        <Entries />
        <Endings />
        <Cast />
        <Cues />
        <StoryFacts />
      </Box>
    </Box>
  )
}
