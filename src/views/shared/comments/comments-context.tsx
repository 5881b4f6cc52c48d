'use client'

import { createContext, useContext, useMemo, useState, type ReactNode } from 'react'
import { may } from '../../../core/contract/access'
import { useSession, useSessionState } from '../session/use-session'
import { CommentsDialog } from './comments-dialog'

interface Comments {
  /** Opens what is said about something. */
  readonly open: (topic: string) => void
  /** Whether one may say something oneself. */
  readonly mayBegin: boolean
}

const CommentsContext = createContext<Comments | undefined>(undefined)

/** Lets everything below it be commented on, where there are accounts. */
export function CommentsProvider({ children }: { children: ReactNode }) {
  const session = useSession()
  const [topic, setTopic] = useState<string>()
  const mayBegin = useSessionState(({ role }) => may(role, 'comment'))
  const isShared = session.together !== undefined
  const value = useMemo(() => (isShared ? { open: setTopic, mayBegin } : undefined), [isShared, mayBegin])
  return (
    <CommentsContext value={value}>
      {children}
      {topic !== undefined && <CommentsDialog topic={topic} onClose={() => setTopic(undefined)} />}
    </CommentsContext>
  )
}

/** How one comes to what is said about something; undefined where there are no accounts. */
export function useComments(): Comments | undefined {
  return useContext(CommentsContext)
}
