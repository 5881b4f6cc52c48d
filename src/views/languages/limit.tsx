'use client'

import { useState } from 'react'
import { useSession, useSessionState } from '../shared/session/use-session'

/** How many signs of a text fit where it is shown, in a speech bubble for instance: in every language the same. */
export function Limit() {
  const session = useSession()
  const limit = useSessionState((state) => state.story.textLimit)
  const [typed, setTyped] = useState<string>()
  const set = () => {
    setTyped(undefined)
    if (typed === undefined) return
    const textLimit = /^[1-9]\d{0,5}$/.test(typed.trim()) ? Number(typed) : typed.trim() === '' ? null : undefined
    if (textLimit === undefined) session.tell(`“${typed}” is no number of signs: 1 to 999999 are expected, or nothing.`)
    else if (textLimit !== (limit ?? null)) session.edit({ op: 'set-story', values: { textLimit } })
  }
  return (
    <label title="How many signs of a line or choice fit where it is shown, such as in a speech bubble">
      at most{' '}
      <input
        className="field"
        inputMode="numeric"
        aria-label="Signs that fit"
        value={typed ?? limit ?? ''}
        placeholder="–"
        style={{ width: '4.5rem' }}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={set}
        onKeyDown={({ key }) => key === 'Enter' && set()}
      />{' '}
      signs
    </label>
  )
}
