'use client'

import { Box, Heading, Text } from '@chakra-ui/react'
import Link from 'next/link'
import { Needle } from '../../ui/marks'

/** A page that says what is missing and leads back. */
export function Lost({ title, text }: { title: string; text: string }) {
  return (
    <Box as="main" maxW="34rem" mx="auto" mt="24" px="6">
      <Needle angle={160} size={28} />
      <Heading as="h1" size="xl" fontFamily="story" fontWeight={500} mt="4">
        {title}
      </Heading>
      <Text mt="3" color="faded">
        {text}
      </Text>
      <Box mt="6" textDecoration="underline" textUnderlineOffset="3px">
        <Link href="/">To the library</Link>
      </Box>
    </Box>
  )
}
