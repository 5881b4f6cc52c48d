'use client'

import { createContext, useContext, type ReactNode } from 'react'

/** Who one is here; undefined where there are no accounts. */
export interface Self {
  readonly id: string
  readonly name: string
  readonly isOwner: boolean
}

const SelfContext = createContext<Self | undefined>(undefined)

export function SelfProvider({ self, children }: { self: Self | undefined; children: ReactNode }) {
  return <SelfContext value={self}>{children}</SelfContext>
}

export function useSelf(): Self | undefined {
  return useContext(SelfContext)
}
