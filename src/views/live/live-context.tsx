'use client'

import { createContext, useContext, useEffect, useState, useSyncExternalStore, type ReactNode } from 'react'
import { LiveLine, type LiveState } from '../../session/live-line'

const LiveContext = createContext<LiveLine | undefined>(undefined)

const NOTHING: LiveState = { key: undefined, games: [], following: undefined }

/** Holds the line to running games for as long as a story is open. */
export function LiveProvider({ story, children }: { story: string; children: ReactNode }) {
  const [line, setLine] = useState<LiveLine>()
  useEffect(() => {
    const { protocol, host } = window.location
    const made = new LiveLine(story, `${protocol === 'https:' ? 'wss' : 'ws'}://${host}/live`)
    // the line is a resource of the page's, opened when it is shown
    queueMicrotask(() => setLine(made))
    return () => made.close()
  }, [story])
  return <LiveContext.Provider value={line}>{children}</LiveContext.Provider>
}

export function useLive(): LiveLine | undefined {
  return useContext(LiveContext)
}

const never = () => () => undefined

export function useLiveState(): LiveState {
  const line = useLive()
  return useSyncExternalStore(line?.subscribe ?? never, line?.getState ?? (() => NOTHING), () => NOTHING)
}
