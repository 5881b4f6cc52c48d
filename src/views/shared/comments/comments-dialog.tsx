'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import { may } from '../../../core/contract/access'
import { Main } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { useSession, useSessionState } from '../session/use-session'
import { CommentField, GiveField } from './comment-field'
import { useThreadsOf } from './threads-of'
import { quoteOf, sayTopic } from './say-topic'
import { ThreadView } from './thread-view'

/** What is said about something in the story, and where something more can be said. */
export function CommentsDialog({ topic, onClose }: { topic: string; onClose: () => void }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const role = useSessionState((state) => state.role)
  const threads = useThreadsOf(
    useSessionState((state) => state.threads),
    topic,
  )
  const [text, setText] = useState('')
  const [given, setGiven] = useState<string | null>(null)
  const [trouble, setTrouble] = useState<string>()
  const sending = useRef(false)
  const send = async () => {
    if (sending.current) return
    if (text.trim() === '') return setTrouble('Write what there is to say first.')
    const quote = quoteOf(story, topic)
    sending.current = true
    const done = await session.together!.begin({ topic, quote, text: text.trim(), givenTo: given })
    sending.current = false
    if (!done.ok) return setTrouble(done.error.message)
    onClose()
  }
  return (
    <Dialog title={`About ${sayTopic(story, topic)}`} onClose={onClose}>
      <Box overflowY="auto" minH="0">
        {threads.map((thread) => (
          <ThreadView key={thread.id} thread={thread} />
        ))}
        {may(role, 'comment') ? (
          <Box mt="4">
            <CommentField
              label={threads.length === 0 ? 'Your comment' : 'Something else'}
              text={text}
              onText={setText}
              onSend={() => void send()}
              autoFocus
            />
            <Flex gap="2" mt="2" align="center" wrap="wrap">
              <Main onClick={() => void send()}>Say it</Main>
              <GiveField
                label="Who shall see to it"
                value={given === null ? null : { id: given, name: '' }}
                onChange={setGiven}
              />
              <Text color="faded" fontSize="sm">
                Ctrl+Enter
              </Text>
            </Flex>
          </Box>
        ) : (
          threads.length === 0 && <Text color="faded">Nothing was said about it.</Text>
        )}
        {trouble !== undefined && (
          <Text role="alert" color="needle" mt="1">
            {trouble}
          </Text>
        )}
      </Box>
    </Dialog>
  )
}
