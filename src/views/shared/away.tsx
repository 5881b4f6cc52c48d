'use client'

import { useEffect } from 'react'
import { Lost } from './lost'

/** Between two looks whether the stories can be read again, in milliseconds. */
const LOOK_MS = 2_000

/** Stands for a page while the store can say nothing; the page comes by itself when it can. */
export function Away({ reason }: { readonly reason: string }) {
  useEffect(() => {
    const look = setInterval(() => {
      fetch('/health').then(
        ({ ok }) => ok && location.reload(),
        () => undefined,
      )
    }, LOOK_MS)
    return () => clearInterval(look)
  }, [])
  return (
    <Lost
      title="The stories can not be read now"
      text={`${reason} What was saved is safe. This page opens by itself as soon as it can.`}
    />
  )
}
