'use client'

import { Bare } from '../../../ui/bare'
import { useSessionState } from '../session/use-session'
import { useComments } from './comments-context'
import { openByTopic } from './threads-of'

/** Signs of a comment that stand beside what it is about. */
const SHOWN = 60

/** What is said about something, in a word beside it; with `offer` also where nobody has said anything yet. */
export function CommentMark({ topic, offer }: { topic: string; offer?: string }) {
  const comments = useComments()
  const threads = useSessionState((state) =>
    state.threads === undefined ? undefined : openByTopic(state.threads).get(topic),
  )
  if (comments === undefined) return null
  const { open, mayBegin } = comments
  if (threads === undefined)
    return offer === undefined || !mayBegin ? null : (
      <Bare className="comment-offer" aria-label={`Comment on ${offer}`} onClick={() => open(topic)}>
        comment
      </Bare>
    )
  const last = threads.at(-1)!.comments.at(-1)
  const more = threads.reduce((sum, { comments }) => sum + comments.length, 0) - 1
  return (
    <Bare className="comment-mark" data-comments={topic} title="What is said about this" onClick={() => open(topic)}>
      <b>
        {last?.by.name}
        {more > 0 && ` +${more}`}:
      </b>{' '}
      {last === undefined ? '' : shortened(last.text)}
    </Bare>
  )
}

function shortened(text: string): string {
  const line = text.split('\n')[0]!
  return line.length > SHOWN || line.length < text.length ? `${line.slice(0, SHOWN)}…` : line
}
