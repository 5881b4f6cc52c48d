'use client'

import { createContext, useContext, useState, type ReactNode } from 'react'
import { useSession } from '../session/use-session'
import { CommentsDialog } from './comments-dialog'

/** Opens what is said about something. */
type Open = (topic: string) => void

const CommentsContext = createContext<Open | undefined>(undefined)

/** Lets everything below it be commented on, where there are accounts. */
export function CommentsProvider({ children }: { children: ReactNode }) {
  const session = useSession()
  const [topic, setTopic] = useState<string>()
  const open = session.together === undefined ? undefined : setTopic
  return (
    <CommentsContext value={open}>
      {children}
      {topic !== undefined && <CommentsDialog topic={topic} onClose={() => setTopic(undefined)} />}
    </CommentsContext>
  )
}

/** Opens what is said about something; undefined where there are no accounts. */
export function useComments(): Open | undefined {
  return useContext(CommentsContext)
}
