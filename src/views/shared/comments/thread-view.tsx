'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import type { Thread, ThreadChange } from '../../../core/contract/comments'
import { may } from '../../../core/contract/access'
import { Plain, Quiet } from '../../../ui/buttons'
import { sayMoment } from '../when'
import { useSession, useSessionState } from '../session/use-session'
import { CommentField, GiveField } from './comment-field'

/** What was said in one thread, and what can be done with it. */
export function ThreadView({ thread }: { thread: Thread }) {
  const session = useSession()
  const role = useSessionState((state) => state.role)
  const [trouble, setTrouble] = useState<string>()
  const [text, setText] = useState('')
  const mayComment = may(role, 'comment')
  const sending = useRef(false)
  const change = async (what: ThreadChange) => {
    // pressed twice, it is said once
    if (what.text !== undefined && sending.current) return
    if (what.text !== undefined) sending.current = true
    const done = await session.together!.change(thread.id, what)
    if (what.text !== undefined) sending.current = false
    setTrouble(done.ok ? undefined : done.error.message)
    if (done.ok && what.text !== undefined) setText('')
  }
  const isOwn = thread.comments[0]?.by.id === session.self
  return (
    <Box
      data-thread={thread.id}
      borderLeft="2px solid"
      borderColor={thread.done === null ? 'needle' : 'hairline'}
      pl="3"
      mt="4"
    >
      {thread.quote !== '' && (
        <Text fontFamily="story" color="faded" truncate title={thread.quote}>
          “{thread.quote}”
        </Text>
      )}
      {thread.comments.map((comment) => (
        <Box key={comment.id} mt="1">
          <Text as="span" fontWeight={600}>
            {comment.by.name}
          </Text>{' '}
          <Text as="span" color="faded" fontSize="sm">
            {sayMoment(comment.at)}
          </Text>
          <Text whiteSpace="pre-wrap">{comment.text}</Text>
        </Box>
      ))}
      {thread.done !== null && (
        <Text color="kept" fontSize="sm" mt="1">
          done: {thread.done.by}, {sayMoment(thread.done.at)}
        </Text>
      )}
      {mayComment && (
        <>
          {thread.done === null && (
            <CommentField
              label="Answer"
              text={text}
              onText={setText}
              onSend={() => text.trim() !== '' && void change({ text: text.trim() })}
            />
          )}
          <Flex gap="2" mt="1" align="center" wrap="wrap">
            {thread.done === null && (
              <Plain disabled={text.trim() === ''} onClick={() => void change({ text: text.trim() })}>
                Answer
              </Plain>
            )}
            <Quiet onClick={() => void change({ isDone: thread.done === null })}>
              {thread.done === null ? 'Done' : 'Take up again'}
            </Quiet>
            <GiveField label="Who sees to it" value={thread.givenTo} onChange={(givenTo) => void change({ givenTo })} />
            {(isOwn || role === 'owner') && (
              <Quiet
                onClick={() =>
                  void session.together!.remove(thread.id).then((done) => !done.ok && setTrouble(done.error.message))
                }
              >
                Delete
              </Quiet>
            )}
          </Flex>
        </>
      )}
      {trouble !== undefined && (
        <Text role="alert" color="needle">
          {trouble}
        </Text>
      )}
    </Box>
  )
}
