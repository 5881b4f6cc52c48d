import { useState } from 'react'

export interface SteadyKeys {
  readonly of: (id: string) => string
  /** From now on the item with one id has another. */
  readonly renamed: (from: string, to: string) => void
}

/** Keys of items that stay the same while their ids change, so that what is being written in stays where it is. */
export function useSteadyKeys(): SteadyKeys {
  const [keys] = useState(() => {
    const known = new Map<string, string>()
    const of = (id: string) => known.get(id) ?? id
    return {
      of,
      renamed: (from: string, to: string) => {
        if (from !== to) known.set(to, of(from))
      },
    }
  })
  return keys
}
