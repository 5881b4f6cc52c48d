'use client'

import { createContext, useContext } from 'react'

/** What the page's policy asks of styles that are made on the page. */
export const NonceContext = createContext<string | undefined>(undefined)

export function useNonce(): string | undefined {
  return useContext(NonceContext)
}
