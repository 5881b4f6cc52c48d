'use client'

import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { Plain, Quiet } from '../../ui/buttons'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useTravel } from '../shared/session/use-travel'
import { RefusedEdits } from './refused-edits'

/** What could not be done, until it is read; and what was not saved, until it is seen to. */
export function Notice() {
  const session = useSession()
  const notice = useSessionState((state) => state.notice)
  const offered = useSessionState((state) => state.offered)
  const travel = useTravel()
  const refused = useSessionState((state) => state.refused.length)
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      {(notice !== undefined || refused > 0) && (
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
          maxW="44rem"
          w="max-content"
          zIndex="docked"
        >
          <Text whiteSpace="pre-wrap" maxH="9rem" overflowY="auto">
            {notice ?? (refused === 1 ? 'An edit was not saved.' : `${refused} edits were not saved.`)}
          </Text>
          {refused > 0 && (
            <Plain flexShrink={0} onClick={() => setOpen(true)}>
              Look at it
            </Plain>
          )}
          {notice !== undefined && offered !== undefined && (
            <Plain flexShrink={0} onClick={() => travel(offered, true)}>
              {offered === 'undo' ? 'Take it back' : 'Bring it back'}
            </Plain>
          )}
          {notice !== undefined && (
            <Quiet flexShrink={0} onClick={() => session.dismissNotice()}>
              Dismiss
            </Quiet>
          )}
        </Flex>
      )}
      {isOpen && <RefusedEdits onClose={() => setOpen(false)} />}
    </>
  )
}
