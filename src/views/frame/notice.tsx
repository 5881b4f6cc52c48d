'use client'

import { Flex } from '@chakra-ui/react'
import { Quiet } from '../../ui/buttons'
import { useSession, useSessionState } from '../shared/session/use-session'

/** What could not be done, until it is read. */
export function Notice() {
  const session = useSession()
  const notice = useSessionState((state) => state.notice)
  if (notice === undefined) return null
  return (
    <Flex
      role="alert"
      position="absolute"
      bottom="3"
      left="50%"
      transform="translateX(-50%)"
      bg="needle.wash"
      border="1px solid"
      borderColor="needle"
      px="4"
      py="2"
      gap="3"
      align="center"
      maxW="40rem"
      zIndex="docked"
    >
      {notice}
      <Quiet onClick={() => session.dismissNotice()}>Dismiss</Quiet>
    </Flex>
  )
}
