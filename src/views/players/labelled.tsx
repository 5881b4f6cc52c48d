'use client'

import { Box, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

export function Labelled({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box as="label" display="block">
      <Text color="faded" fontSize="sm">
        {name}
      </Text>
      {children}
    </Box>
  )
}
