'use client'

import { Box, Flex } from '@chakra-ui/react'
import { useState } from 'react'
import { withKeys } from '../../core/story/reshape/beat-edits'
import type { Entry, SwitchEntry, WhenGiven } from '../../core/story/types'
import { GIVEN } from '../shared/new/entry-kinds'
import { DraftText } from '../shared/fields/draft-text'
import { useThings } from '../shared/naming/things'
import { EditId, EditSelect } from '../shared/fields/edits'

/** What each position stands for. */
export function Meanings({ entry, replace }: { entry: SwitchEntry; replace: (entry: Entry) => void }) {
  const things = useThings()
  const set = (position: string, meaning: string) => {
    const meanings = { ...entry.meanings, [position]: meaning }
    if (meaning === '') delete meanings[position]
    const next = { ...entry, meanings }
    if (Object.keys(meanings).length === 0) delete (next as SwitchEntry).meanings
    replace(next)
  }
  return (
    <Flex gap="4" fontSize="sm" pb="1" wrap="wrap">
      {entry.positions.map((position) => (
        <Flex key={position} gap="1.5" align="baseline">
          <EditId
            px="0"
            fontSize="sm"
            title="Rename it everywhere"
            aria-label={`Rename ${entry.id} ${position}`}
            onClick={() => things.rename({ of: 'position', entry: entry.id, id: position })}
          >
            {position}:
          </EditId>
          <Box color="faded" minW="7rem">
            <DraftText
              label={`What ${entry.id} ${position} means`}
              placeholder="what it means"
              value={entry.meanings?.[position] ?? ''}
              single
              onCommit={(text) => set(position, text.trim())}
            />
          </Box>
        </Flex>
      ))}
    </Flex>
  )
}

/** Whether the entry is the game's own, and when it is set then. */
export function WhoSets({ entry, replace }: { entry: Entry; replace: (entry: Entry) => void }) {
  return (
    <EditSelect
      style={{ width: '10rem' }}
      aria-label={`Who sets ${entry.id}`}
      title="What the game gives is only read by the story, and may be anything"
      value={entry.given ?? ''}
      onChange={(event) => {
        const given = event.target.value === '' ? undefined : (event.target.value as WhenGiven)
        replace(withKeys(entry, { given }))
      }}
    >
      {GIVEN.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </EditSelect>
  )
}

export function Details({ entry, replace }: { entry: Entry; replace: (entry: Entry) => void }) {
  switch (entry.kind) {
    case 'flag':
      return (
        <label>
          starts with{' '}
          <EditSelect
            value={entry.initial === true ? 'yes' : 'no'}
            onChange={(event) => replace({ ...entry, initial: event.target.value === 'yes' ? true : undefined })}
          >
            <option>no</option>
            <option>yes</option>
          </EditSelect>
        </label>
      )
    case 'switch':
      return (
        <>
          <Box flex="1" fontFamily="story">
            <DraftText
              label={`Positions of ${entry.id}, with commas`}
              value={entry.positions.join(', ')}
              single
              onCommit={(text) => {
                const positions = [
                  ...new Set(
                    text
                      .split(',')
                      .map((position) => position.trim())
                      .filter((position) => position !== ''),
                  ),
                ]
                if (positions.length > 0)
                  replace({
                    ...entry,
                    positions,
                    initial:
                      entry.initial !== undefined && positions.includes(entry.initial) ? entry.initial : undefined,
                  })
              }}
            />
          </Box>
          <label>
            starts with{' '}
            <EditSelect
              value={entry.initial ?? entry.positions[0] ?? ''}
              onChange={(event) => replace({ ...entry, initial: event.target.value })}
            >
              {entry.positions.map((position) => (
                <option key={position}>{position}</option>
              ))}
            </EditSelect>
          </label>
        </>
      )
    case 'counter':
      return (
        <>
          <NumberField
            label="from"
            name={`Least value of ${entry.id}`}
            value={entry.min}
            onChange={(min) => replace({ ...entry, min })}
          />
          <NumberField
            label="to"
            name={`Largest value of ${entry.id}`}
            value={entry.max}
            onChange={(max) => replace({ ...entry, max })}
          />
          <NumberField
            label="starts with"
            name={`First value of ${entry.id}`}
            value={entry.initial ?? entry.min}
            onChange={(initial) => replace({ ...entry, initial })}
          />
        </>
      )
    case 'item':
      return (
        <>
          <NumberField
            label="at most"
            name={`Most of ${entry.id}`}
            value={entry.max}
            onChange={(max) => replace({ ...entry, max })}
          />
          <NumberField
            label="starts with"
            name={`First value of ${entry.id}`}
            value={entry.initial ?? 0}
            onChange={(initial) => replace({ ...entry, initial })}
          />
        </>
      )
    case 'text':
      return (
        <Box flex="1" fontFamily="story">
          <DraftText
            label={`First word of ${entry.id}`}
            placeholder="starts empty"
            value={entry.initial ?? ''}
            single
            onCommit={(initial) => replace({ ...entry, initial: initial === '' ? undefined : initial })}
          />
        </Box>
      )
  }
}

/** A whole number, taken when the field is left; anything else is shown as wrong and not taken. */
function NumberField({
  label,
  name,
  value,
  onChange,
}: {
  label: string
  name: string
  value: number
  onChange: (value: number) => void
}) {
  const [text, setText] = useState<string>()
  const typed = text === undefined ? value : Number(text)
  const sound = text === undefined || (text.trim() !== '' && Number.isSafeInteger(typed))
  const settle = () => {
    setText(undefined)
    if (sound && typed !== value) onChange(typed)
  }
  return (
    <Flex as="label" align="baseline" gap="1.5" whiteSpace="nowrap">
      {label}
      <input
        className="field number"
        size={2}
        inputMode="numeric"
        aria-label={name}
        aria-invalid={!sound}
        title={sound ? undefined : 'A whole number is expected.'}
        value={text ?? String(value)}
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => {
          if (event.key === 'Enter') settle()
        }}
      />
    </Flex>
  )
}
