'use client'

import { createContext, createElement, useContext, useSyncExternalStore, type ReactNode } from 'react'
import { may } from '../../../core/contract/access'
import type { LinkedStory } from '../../../core/story/linked'
import type { Naming } from '../../../session/naming'
import type { SessionState, StorySession } from '../../../session/story-session'

export const SessionContext = createContext<StorySession | undefined>(undefined)

export function useSession(): StorySession {
  const session = useContext(SessionContext)
  if (session === undefined) throw new Error('internal: no story is open here')
  return session
}

const MayWriteContext = createContext(true)

/** Tells what is below it whether one may change the story: fields by the thousand ask. */
export function MayWriteProvider({ children }: { children: ReactNode }) {
  const mayWrite = useSessionState(({ role }) => may(role, 'write'))
  return createElement(MayWriteContext, { value: mayWrite }, children)
}

export function useMayWrite(): boolean {
  return useContext(MayWriteContext)
}

/** What a component needs of the session, and nothing else: it is drawn again only when that changes. */
export function useSessionState<T>(select: (state: SessionState) => T): T {
  const session = useSession()
  const get = () => select(session.getState())
  return useSyncExternalStore(session.subscribe, get, get)
}

/** The story with its names resolved, as it is now. */
export function useLinked(): LinkedStory {
  const session = useSession()
  return useSyncExternalStore(session.subscribe, session.link, session.link)
}

/** The same only where somebody looks: linking takes a while in a large story. */
export function useLinkedWhen(isWanted: boolean): LinkedStory | undefined {
  const session = useSession()
  const link = () => (isWanted ? session.link() : undefined)
  return useSyncExternalStore(session.subscribe, link, link)
}

/** What the story names and how: drawn again only when a name changes. */
export function useNaming(): Naming {
  const session = useSession()
  return useSyncExternalStore(session.subscribe, session.naming, session.naming)
}
