import { useMemo } from 'react'
import type { Thread } from '../../../core/contract/comments'

const known = new WeakMap<readonly Thread[], ReadonlyMap<string, readonly Thread[]>>()

/** Threads that are not done, by what they are about. */
export function openByTopic(threads: readonly Thread[]): ReadonlyMap<string, readonly Thread[]> {
  let found = known.get(threads)
  if (found === undefined) {
    found = grouped(threads)
    known.set(threads, found)
  }
  return found
}

function grouped(threads: readonly Thread[]): ReadonlyMap<string, readonly Thread[]> {
  const groups = new Map<string, Thread[]>()
  for (const thread of threads) {
    if (thread.done !== null) continue
    const group = groups.get(thread.topic)
    if (group === undefined) groups.set(thread.topic, [thread])
    else group.push(thread)
  }
  return groups
}

/** All threads about something, the open ones first. */
export function useThreadsOf(threads: readonly Thread[] | undefined, topic: string): readonly Thread[] {
  return useMemo(
    () =>
      (threads ?? [])
        .filter((thread) => thread.topic === topic)
        .sort((a, b) => Number(a.done !== null) - Number(b.done !== null)),
    [threads, topic],
  )
}
