'use client'

import { Box, Heading, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** One part of the page, with what it is for. */
export function Section({ title, hint, children }: { title: string; hint: string; children: ReactNode }) {
  return (
    <Box as="section" mb="10" aria-label={title}>
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
        {title}
      </Heading>
      <Text color="faded" mb="2">
        {hint}
      </Text>
      {children}
    </Box>
  )
}
