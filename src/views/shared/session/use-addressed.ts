'use client'

import { useSearchParams } from 'next/navigation'
import { useCallback } from 'react'

/** What is chosen on a view, as part of its address: it is there after a reload, and can be handed on. */
export function useAddressed(name: string): readonly [string | undefined, (value: string | undefined) => void] {
  const value = useSearchParams().get(name) ?? undefined
  const set = useCallback(
    (next: string | undefined) => {
      const address = new URL(window.location.href)
      if (next === undefined) address.searchParams.delete(name)
      else address.searchParams.set(name, next)
      window.history.replaceState(null, '', address)
    },
    [name],
  )
  return [value, set]
}
