'use client'

import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { ChakraProvider } from '@chakra-ui/react'
import { useServerInsertedHTML } from 'next/navigation'
import { useState, type ReactNode } from 'react'
import { useLeaveFirst } from './leave-first'
import { NonceContext } from './nonce'
import { system } from './theme'

/**
 * Chakra's styles, rendered on the server into the page's head with the page's nonce, so that the
 * first paint is styled and nothing has to be put right afterwards.
 */
export function UiProvider({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  const [{ cache, flush }] = useState(() => {
    const made = createCache({ key: 'pc', ...(nonce === undefined ? {} : { nonce }) })
    made.compat = true
    const insert = made.insert
    let names: string[] = []
    made.insert = (...parts) => {
      const [, serialized] = parts
      if (made.inserted[serialized.name] === undefined) names.push(serialized.name)
      return insert(...parts)
    }
    return {
      cache: made,
      flush: () => {
        const flushed = names
        names = []
        return flushed
      },
    }
  })
  useLeaveFirst()
  useServerInsertedHTML(() => {
    const names = flush()
    if (names.length === 0) return null
    const styles = names
      .map((name) => cache.inserted[name])
      .filter((style) => typeof style === 'string')
      .join('')
    return (
      <style
        nonce={nonce}
        data-emotion={`${cache.key} ${names.join(' ')}`}
        dangerouslySetInnerHTML={{ __html: styles }}
      />
    )
  })
  return (
    <NonceContext.Provider value={nonce}>
      <CacheProvider value={cache}>
        <ChakraProvider value={system}>{children}</ChakraProvider>
      </CacheProvider>
    </NonceContext.Provider>
  )
}
