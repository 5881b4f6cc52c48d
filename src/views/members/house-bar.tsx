'use client'

import { goAnew } from '../../ui/go-anew'
import { Box, Flex, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { ReactNode } from 'react'
import { membersApi } from '../../session/members-api'
import { Quiet } from '../../ui/buttons'
import { Needle } from '../../ui/marks'
import { ThemeSwitch } from '../../ui/theme-switch'
import { useSelf } from './self'

/** Above the pages that are of no single story: where one is, and who. */
export function HouseBar() {
  const self = useSelf()
  const signOut = async () => {
    await membersApi.signOut()
    // all that the page still holds goes too
    goAnew('/sign-in')
  }
  return (
    <Flex align="center" gap="2">
      <Needle />
      <Text fontWeight={600} letterSpacing="0.02em">
        <Link href="/">Paper Compass</Link>
      </Text>
      <Box flex="1" />
      <Quiet asChild>
        <Link href="/nights" title="The survey of all stories each night, and what it found new">
          Nights
        </Link>
      </Quiet>
      {self !== undefined && (
        <>
          {self.isOwner && (
            <Quiet asChild>
              <Link href="/members">Members</Link>
            </Quiet>
          )}
          <Quiet asChild>
            <Link href="/account" title="Your account: password, devices, tokens">
              {self.name}
            </Link>
          </Quiet>
          <Quiet onClick={() => void signOut()}>Sign out</Quiet>
        </>
      )}
      <ThemeSwitch />
    </Flex>
  )
}

/** A page under that bar. */
export function HousePage({ narrow, children }: { narrow?: boolean; children: ReactNode }) {
  return (
    <Box as="main" maxW={narrow ? '30rem' : '60rem'} mx="auto" px="6" py="8" minH="100vh">
      <HouseBar />
      {children}
    </Box>
  )
}
