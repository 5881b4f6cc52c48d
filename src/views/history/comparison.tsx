'use client'

import { plainId } from '../../core/base/ids'
import { Box, Heading, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useState } from 'react'
import { compareStories, type ThingNotes } from '../../core/story/compare/compare-stories'
import type { Story } from '../../core/story/types'
import { api } from '../../session/api'
import { sayAddress } from '../../session/names'
import type { Result } from '../../core/base/result'
import type { Compared } from '../../session/survey-handle'
import { sayDifference } from '../shared/naming/say-difference'
import { isSame } from '../../core/base/same'
import { useSession, useSessionState } from '../shared/session/use-session'
import { InTheMiddle } from './in-the-middle'

type State =
  | { readonly kind: 'reading' }
  | { readonly kind: 'failed'; readonly message: string }
  | {
      readonly kind: 'ready'
      readonly before: Story
      readonly after: Story
      readonly things: readonly ThingNotes[]
      readonly compared: Result<Compared> | undefined
    }

const SHOWN = 200

/** What is different between two points of the history: in words, and in verdicts. */
export function Comparison({ from, to }: { from: number; to: number }) {
  const session = useSession()
  const current = useSessionState(({ story }) => story)
  const [state, setState] = useState<State>({ kind: 'reading' })
  useEffect(() => {
    const leaving = new AbortController()
    const { signal } = leaving
    void (async () => {
      const [before, after] = await Promise.all([api.at(session.id, from), api.at(session.id, to)])
      if (signal.aborted) return
      if (!before.ok || !after.ok)
        return setState({
          kind: 'failed',
          message: before.ok ? (after.ok ? '' : after.error.message) : before.error.message,
        })
      const ready = {
        kind: 'ready',
        before: before.value.story,
        after: after.value.story,
        things: compareStories(before.value.story, after.value.story),
      } as const
      setState({ ...ready, compared: undefined })
      const stories = { before: before.value.story, after: after.value.story }
      const compared = await session.survey.ask('compare', stories, signal)
      if (!signal.aborted) setState({ ...ready, compared })
    })()
    return () => leaving.abort()
  }, [session, from, to])
  const shown = state.kind === 'ready' ? state.after : undefined
  const isNow = useMemo(() => shown !== undefined && isSame(shown, current), [shown, current])
  if (state.kind === 'reading') return <Text color="faded">Reading both …</Text>
  if (state.kind === 'failed') return <Text color="needle">{state.message}</Text>
  const { before, after, things, compared } = state
  const verdicts = compared?.ok ? sayDifference(after, compared.value.difference) : []
  return (
    <>
      <Heading as="h3" fontSize="md" fontWeight={600} mt="2">
        In verdicts
      </Heading>
      <Box as="ul" pl="5" listStyleType="disc" data-verdicts={compared === undefined ? 'asking' : 'told'}>
        {compared === undefined && <Text color="faded">Surveying both …</Text>}
        {compared?.ok === false && <Text color="needle">The verdicts could not be compared: {compared.error}.</Text>}
        {compared?.ok && verdicts.length === 0 && <Text color="faded">None: both reach and keep the same.</Text>}
        {verdicts.slice(0, SHOWN).map((line) => (
          <li key={line}>{line}</li>
        ))}
        {compared?.ok && !compared.value.complete && (
          <Text color="faded">A survey was cut short, so there may be more.</Text>
        )}
      </Box>
      <InTheMiddle before={before} after={after} isNow={isNow} />
      <Heading as="h3" fontSize="md" fontWeight={600} mt="5">
        In words
      </Heading>
      {things.length === 0 && <Text color="faded">Nothing.</Text>}
      {things.slice(0, SHOWN).map((thing) => (
        <Box
          key={`${thing.kind} ${thing.id}`}
          py="1.5"
          borderBottom="1px solid"
          borderColor="hairline"
          data-changed={thing.id}
        >
          <Text fontWeight={600}>
            {thing.kind === 'story'
              ? 'The story'
              : `${thing.kind} ${thing.kind === 'beat' ? sayAddress(thing.id) : plainId(thing.id)}`}
          </Text>
          {thing.notes.map((note, at) => (
            <Box key={at} pl="4" display="grid" gridTemplateColumns="11rem minmax(0, 1fr)" columnGap="3">
              <Text color="faded">{note.text}</Text>
              <Box fontFamily="story">
                {note.before !== undefined && (
                  <Text as="del" display="block" color="faded">
                    {note.before}
                  </Text>
                )}
                {note.after !== undefined && (
                  <Text as="ins" display="block" textDecoration="none">
                    {note.after}
                  </Text>
                )}
              </Box>
            </Box>
          ))}
        </Box>
      ))}
      {things.length > SHOWN && <Text color="faded">and {things.length - SHOWN} more</Text>}
    </>
  )
}
