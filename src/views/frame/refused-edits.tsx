'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { changedTexts } from '../../core/story/changes/changed-texts'
import { summarise } from '../../core/story/changes/summary'
import type { RefusedChange } from '../../session/pending'
import { Plain, Quiet } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { useSession, useSessionState } from '../shared/session/use-session'

/** Edits that the server would not take, until each has been made anew or let go. */
export function RefusedEdits({ onClose }: { onClose: () => void }) {
  const refused = useSessionState((state) => state.refused)
  return (
    <Dialog title="Edits that were not saved" wide onClose={onClose}>
      <Text color="faded">
        The story goes on without them. Their words are kept in this browser until you make them anew or let them go.
      </Text>
      <Box overflowY="auto" as="ul" listStyleType="none">
        {refused.map((one) => (
          <Refused key={one.request} refused={one} />
        ))}
        {refused.length === 0 && <li>Nothing is left to see to.</li>}
      </Box>
      <Flex justify="end">
        <Plain onClick={onClose}>Close</Plain>
      </Flex>
    </Dialog>
  )
}

function Refused({ refused }: { refused: RefusedChange }) {
  const session = useSession()
  const [trouble, setTrouble] = useState<string>()
  const texts = changedTexts(refused.change)
  return (
    <Box as="li" py="3" borderTop="1px solid" borderColor="hairline">
      <Text fontWeight={600}>You {summarise(refused.change)}</Text>
      <Text color="needle" whiteSpace="pre-wrap">
        {trouble ?? refused.why}
      </Text>
      {texts.map((text, index) => (
        <Text key={index} fontFamily="story" mt="1" pl="3" borderLeft="2px solid" borderColor="edge">
          {text}
        </Text>
      ))}
      <Flex gap="2" mt="2">
        <Plain onClick={() => setTrouble(session.tryAgain(refused.request))}>Make it anew</Plain>
        {texts.length > 0 && (
          <Quiet onClick={() => void navigator.clipboard.writeText(texts.join('\n\n'))}>Copy the words</Quiet>
        )}
        <Quiet onClick={() => session.forgetRefused(refused.request)}>Let it go</Quiet>
      </Flex>
    </Box>
  )
}
