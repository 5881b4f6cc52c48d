'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { isInDomain } from '../../core/play/given'
import type { PlayState } from '../../core/play/state'
import type { LinkedEntry, LinkedStory } from '../../core/story/linked'
import { isDecision, type EntryValue, type Given, type RouteItem } from '../../core/story/types'

interface Props {
  readonly linked: LinkedStory
  /** What was played so far. */
  readonly taken: readonly RouteItem[]
  readonly state: PlayState
  readonly onPlay: (route: readonly RouteItem[]) => void
}

/** What the game sets. Before the first decision all of it can be set, later what may change while the story rests. */
export function GivenPanel({ linked, taken, state, onPlay }: Props) {
  const given = linked.entries.filter((entry) => entry.given !== undefined)
  if (given.length === 0) return null
  const hasBegun = taken.some((item, at) => at > 0 || isDecision(item))
  const rests = state.status === 'choice' || state.status === 'word' || state.status === 'stuck'
  return (
    <Box as="section" aria-label="Given by the game" mb="4">
      <Heading as="h2" fontSize="sm" fontWeight={600} color="faded" mb="1">
        Given by the game
      </Heading>
      {given.map((entry) => (
        <Flex key={entry.id} justify="space-between" gap="3" py="0.5" align="center" data-given={entry.id}>
          <Text>{entry.entry.name ?? plainId(entry.id)}</Text>
          <Control
            key={String(state.entries[entry.index])}
            entry={entry}
            value={state.entries[entry.index]!}
            disabled={entry.given === 'begin' ? hasBegun : hasBegun && !rests}
            onChange={(value) => onPlay(withGiven(taken, { [entry.id]: value }, hasBegun))}
          />
        </Flex>
      ))}
      <Text color="faded" fontSize="xs">
        {hasBegun
          ? 'Changed while the story rests, choices open and close; the change becomes part of the run.'
          : 'Set before the story begins.'}
      </Text>
    </Box>
  )
}

/** The run with something else given: before its beginning, or now. */
function withGiven(taken: readonly RouteItem[], values: Given['given'], hasBegun: boolean): RouteItem[] {
  const [first] = taken
  if (hasBegun) return [...taken, { given: values }]
  return [{ given: { ...(first !== undefined && 'given' in first ? first.given : {}), ...values } }]
}

function Control({
  entry,
  value,
  disabled,
  onChange,
}: {
  entry: LinkedEntry
  value: EntryValue
  disabled: boolean
  onChange: (value: EntryValue) => void
}) {
  const [text, setText] = useState(String(value))
  const label = `The game sets ${entry.entry.name ?? plainId(entry.id)}`
  switch (entry.kind) {
    case 'flag':
      return (
        <input
          type="checkbox"
          aria-label={label}
          checked={value === true}
          disabled={disabled}
          onChange={(event) => onChange(event.target.checked)}
        />
      )
    case 'switch':
      return (
        <select
          className="field"
          aria-label={label}
          value={String(value)}
          disabled={disabled}
          onChange={(event) => onChange(event.target.value)}
        >
          {entry.positions.map((position) => (
            <option key={position}>{position}</option>
          ))}
        </select>
      )
    case 'counter':
    case 'item':
    case 'text': {
      const typed = entry.kind === 'text' ? text.trim() : Number(text)
      const sound = (entry.kind === 'text' || text.trim() !== '') && isInDomain(entry, typed)
      const settle = () => {
        if (sound && typed !== value) onChange(typed)
        else setText(String(value))
      }
      return (
        <input
          className="field"
          size={entry.kind === 'text' ? 12 : 4}
          aria-label={label}
          aria-invalid={!sound}
          title={
            sound || entry.kind === 'text' ? undefined : `A whole number from ${entry.min} to ${entry.max} is expected.`
          }
          value={text}
          disabled={disabled}
          onChange={(event) => setText(event.target.value)}
          onBlur={settle}
          onKeyDown={(event) => {
            if (event.key === 'Enter') settle()
          }}
        />
      )
    }
  }
}
