'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useSearchParams } from 'next/navigation'
import { useState } from 'react'
import type { Thread } from '../../core/contract/comments'
import { parseTopic } from '../../core/story/topic'
import { Quiet } from '../../ui/buttons'
import { isThere, sayTopic } from '../shared/comments/say-topic'
import { ThreadView } from '../shared/comments/thread-view'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'

const WHICH = {
  open: 'open',
  mine: 'for me',
  done: 'done',
  all: 'all',
} as const
type Which = keyof typeof WHICH

/** Everything that members say about the story, by what it is about. */
export function CommentsView() {
  const session = useSession()
  const threads = useSessionState((state) => state.threads)
  const asked = useSearchParams().get('which')
  const [which, setWhich] = useState<Which>(asked === 'mine' ? 'mine' : 'open')
  if (session.together === undefined)
    return (
      <Box as="main" p="8" maxW="44rem">
        <Text>You work alone here, without accounts, so there is nobody to say anything to.</Text>
      </Box>
    )
  const is = (thread: Thread, wanted: Which) =>
    wanted === 'all' ||
    (wanted === 'done'
      ? thread.done !== null
      : thread.done === null && (wanted === 'open' || isFor(thread, session.self)))
  const shown = (threads ?? []).filter((thread) => is(thread, which))
  const topics = [...new Set(shown.map(({ topic }) => topic))]
  return (
    <Box as="main" px="6" py="4" overflowY="auto" h="100%">
      <Box maxW="48rem">
        <Flex align="center" gap="4" wrap="wrap">
          <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
            Comments
          </Heading>
          {(Object.keys(WHICH) as Which[]).map((one) => (
            <Quiet
              key={one}
              aria-pressed={which === one}
              color={which === one ? 'ink' : undefined}
              fontWeight={which === one ? 600 : undefined}
              onClick={() => setWhich(one)}
            >
              {WHICH[one]} {(threads ?? []).filter((thread) => is(thread, one)).length}
            </Quiet>
          ))}
        </Flex>
        {threads === undefined && <Text color="faded">Reading what was said …</Text>}
        {threads !== undefined && topics.length === 0 && (
          <Text color="faded" mt="4">
            {which === 'open'
              ? 'Nothing is open. On the Desk, Alt+. in a row and “comment” says something about it; entries, quests and findings have it beside them.'
              : 'There is nothing of that kind.'}
          </Text>
        )}
        {topics.map((topic) => (
          <Box key={topic} mt="5" as="section">
            <Topic topic={topic} isLost={shown.some((thread) => thread.topic === topic && thread.isLost)} />
            {shown
              .filter((thread) => thread.topic === topic)
              .map((thread) => (
                <ThreadView key={thread.id} thread={thread} />
              ))}
          </Box>
        ))}
      </Box>
    </Box>
  )
}

/** Whether somebody is to see to a thread, or was called in it. */
function isFor(thread: Thread, member: string | undefined): boolean {
  return (
    member !== undefined &&
    (thread.givenTo?.id === member || thread.comments.some(({ mentions }) => mentions.includes(member)))
  )
}

function Topic({ topic, isLost }: { topic: string; isLost: boolean }) {
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const parsed = parseTopic(topic)
  const there = isThere(story, topic)
  const says = sayTopic(story, topic)
  return (
    <Flex gap="2" align="baseline">
      <Heading as="h3" fontSize="md" fontWeight={600}>
        {parsed?.of === 'at' && there ? (
          <Quiet px="0" color="ink" fontWeight={600} onClick={() => goTo(parsed.names[0]!)} title="Go there">
            {says}
          </Quiet>
        ) : (
          says
        )}
      </Heading>
      {(!there || isLost) && (
        <Text color="faded" fontSize="sm">
          {there ? 'the row that this was about is gone' : 'this is gone'}
        </Text>
      )}
    </Flex>
  )
}
