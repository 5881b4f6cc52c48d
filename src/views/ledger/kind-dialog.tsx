'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { changeKind, valuesOf } from '../../core/story/rename/change-kind'
import type { Entry, EntryKind } from '../../core/story/types'
import { sayAddress, sayValue } from '../../session/names'
import { Main, Plain } from '../../ui/buttons'
import { Dialog } from '../../ui/dialog'
import { asKind } from '../shared/new/entry-kinds'
import { useSession, useSessionState } from '../shared/session/use-session'
import { said } from '../shared/said'

const SHOWN = 40

/** What changing the kind of an entry rewrites, shown before it is made; positions are named first. */
export function KindDialog({ entry, kind, onClose }: { entry: Entry; kind: EntryKind; onClose: () => void }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const old = valuesOf(entry) ?? []
  const [names, setNames] = useState<readonly string[]>(() =>
    old.map((value) => (typeof value === 'boolean' ? (value ? 'yes' : 'no') : `step ${String(value)}`)),
  )
  const made = useMemo((): Entry => {
    const next = asKind(entry, kind)
    if (next.kind === 'switch')
      return { ...next, positions: names.map((name) => name.trim()).filter((name) => name !== '') }
    // as many numbers as there were values
    if (next.kind === 'counter' && entry.kind !== 'item') return { ...next, min: 0, max: Math.max(1, old.length - 1) }
    if (next.kind === 'item' && entry.kind !== 'counter') return { ...next, max: Math.max(1, old.length - 1) }
    return next
  }, [entry, kind, names, old.length])
  const answer = useMemo(() => changeKind(story, entry, made), [story, entry, made])
  const isDouble = kind === 'switch' && new Set(names.map((name) => name.trim())).size < names.length
  return (
    <Dialog title={`Turn “${plainId(entry.id)}” from a ${entry.kind} into a ${kind}`} onClose={onClose} wide>
      {kind === 'switch' && old.length > 0 && (
        <Box
          display="grid"
          gridTemplateColumns="auto 1fr auto 1fr"
          gap="2"
          alignItems="center"
          maxH="12rem"
          overflowY="auto"
          tabIndex={0}
          role="group"
          aria-label="Names of the positions"
        >
          {old.map((value, at) => (
            <Box display="contents" key={String(value)}>
              <Text color="faded">{sayValue(value)} becomes</Text>
              <input
                className="field"
                aria-label={`Position for ${sayValue(value)}`}
                value={names[at]}
                onChange={(event) => setNames(names.with(at, event.target.value))}
              />
            </Box>
          ))}
        </Box>
      )}
      <Box overflowY="auto" maxH="22rem" tabIndex={0} role="group" aria-label="What is rewritten">
        {answer.ok && (
          <>
            <Text fontWeight={600}>
              {answer.value.rewritten.length === 0
                ? 'Nothing has to be rewritten.'
                : `Rewritten in ${said(answer.value.rewritten.length, 'place')}:`}
            </Text>
            {answer.value.rewritten.slice(0, SHOWN).map(({ address, before, after }, at) => (
              <Flex key={at} gap="3" fontSize="sm" align="baseline" data-rewritten="">
                <Text color="faded" w="11rem" flexShrink={0}>
                  {sayAddress(address, story)}
                </Text>
                <Text flex="1" textDecoration="line-through" color="faded">
                  {before}
                </Text>
                <Text flex="1">{after}</Text>
              </Flex>
            ))}
            {answer.value.rewritten.length > SHOWN && (
              <Text color="faded">and {answer.value.rewritten.length - SHOWN} more</Text>
            )}
            {answer.value.broken.length > 0 && (
              <>
                <Text mt="2" color="needle" fontWeight={600}>
                  These could not be said any more and have to be written anew:
                </Text>
                {answer.value.broken.slice(0, SHOWN).map((line) => (
                  <Text key={line} fontSize="sm">
                    {line}
                  </Text>
                ))}
              </>
            )}
          </>
        )}
        {!answer.ok && <Text color="needle">{answer.error}</Text>}
      </Box>
      <Flex gap="2">
        <Main
          disabled={!answer.ok || isDouble}
          onClick={() => {
            if (answer.ok) session.edit(answer.value.change)
            onClose()
          }}
        >
          Turn it into a {kind}
        </Main>
        <Plain onClick={onClose}>Leave it</Plain>
      </Flex>
    </Dialog>
  )
}
