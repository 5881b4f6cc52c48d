'use client'

import { focusSoon } from '../../ui/named-fields'
import { Box, Flex } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId } from '../../core/base/ids'
import { idFrom } from '../../core/base/id-from'
import type { StoryPromise } from '../../core/story/types'
import { Main } from '../../ui/buttons'
import { useSession, useSessionState } from '../shared/session/use-session'
import type { PromiseKind } from '../../core/story/promise-parts'
import { PROMISE_KINDS } from './promise-kinds'

/** The field that names a new promise. */
export const NEW_PROMISE = 'promise:new'

/** A new promise: what kind it is, then its parts are written in its sentence. */
export function PromiseForm() {
  const session = useSession()
  const promises = useSessionState((state) => state.story.promises) ?? []
  const [kind, setKind] = useState<PromiseKind>('never')
  const [name, setName] = useState('')
  return (
    <Flex asChild gap="2" mt="3" wrap="wrap" align="center">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          const id = freshId(idFrom(name, 'promise'), (taken) => promises.some((promise) => promise.id === taken))
          const item: StoryPromise = kind === 'inOrder' ? { id, kind, first: '', then: '' } : { id, kind, holds: '' }
          session.edit({ op: 'insert', in: { list: 'promises' }, at: promises.length, item })
          setName('')
          // what it says is written next
          focusSoon(`${id}:${kind === 'inOrder' ? 'first' : 'holds'}`)
        }}
      >
        <Box asChild className="field">
          <input
            aria-label="Name of a new promise"
            data-field={NEW_PROMISE}
            placeholder="no double reward"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Box>
        <select
          className="field"
          aria-label="Kind of the new promise"
          value={kind}
          onChange={(event) => setKind(event.target.value as PromiseKind)}
        >
          {PROMISE_KINDS.map((one) => (
            <option key={one.kind} value={one.kind}>
              {one.says}
            </option>
          ))}
        </select>
        <Main type="submit">Make a promise</Main>
      </form>
    </Flex>
  )
}
