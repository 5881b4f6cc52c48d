'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { PlayState } from '../../core/play/state'
import type { Setup } from '../../core/play/step'
import type { LinkedEntry, LinkedStory } from '../../core/story/linked'
import { sayAddress } from '../../session/names'
import { Main, Plain } from '../../ui/buttons'

type Value = boolean | number | string

interface Props {
  readonly linked: LinkedStory
  readonly beat: string
  /** Where the rehearsal is now: its values are the first that are offered. */
  readonly now: PlayState
  readonly onBegin: (setup: Setup) => void
  readonly onClose: () => void
}

/** Every value set by hand, as the beat is come to. */
export function ByHand({ linked, beat, now, onBegin, onClose }: Props) {
  const scene = linked.beats[linked.beatOf.get(beat) ?? -1]?.scene
  const entries = linked.entries.filter((entry) => entry.scene === -1 || entry.scene === scene)
  const places = linked.inOrder.filter((one) => one.place)
  const [ledger, setLedger] = useState<Readonly<Record<string, Value>>>(() =>
    Object.fromEntries(linked.entries.map(({ id, index }) => [id, now.entries[index]!])),
  )
  const [stages, setStages] = useState<Readonly<Record<string, string>>>(() =>
    Object.fromEntries(linked.quests.map(({ id, index, stages: all }) => [id, all[now.stages[index]!]!])),
  )
  const [place, setPlace] = useState(now.place === -1 ? '' : (linked.beats[now.place]!.address as string))
  const begin = () =>
    onBegin({
      beat,
      ledger: Object.fromEntries(entries.map(({ id }) => [id, ledger[id]!])),
      stages,
      ...(place === '' ? {} : { place }),
    })
  return (
    <>
      <Box
        overflowY="auto"
        tabIndex={0}
        role="group"
        aria-label="Values set by hand"
        maxH="20rem"
        display="grid"
        gridTemplateColumns="1fr 1fr"
        columnGap="6"
        rowGap="1"
        alignContent="start"
      >
        {entries.map((entry) => (
          <Flex as="label" key={entry.id} align="center" justify="space-between" gap="2">
            <Text truncate>{plainId(entry.id)}</Text>
            <EntryValue
              entry={entry}
              value={ledger[entry.id]!}
              onChange={(value) => setLedger({ ...ledger, [entry.id]: value })}
            />
          </Flex>
        ))}
        {linked.quests.map((quest) => (
          <Flex as="label" key={quest.id} align="center" justify="space-between" gap="2">
            <Text truncate>{quest.name}</Text>
            <select
              className="field"
              aria-label={`Stage of ${quest.name}`}
              value={stages[quest.id]}
              onChange={(event) => setStages({ ...stages, [quest.id]: event.target.value })}
            >
              {quest.stages.map((stage, at) => (
                <option key={stage} value={stage}>
                  {quest.names[at]}
                </option>
              ))}
            </select>
          </Flex>
        ))}
        {places.length > 0 && (
          <Flex as="label" align="center" justify="space-between" gap="2">
            <Text truncate>place to come back to</Text>
            <select
              className="field"
              aria-label="Place to come back to"
              value={place}
              onChange={(event) => setPlace(event.target.value)}
            >
              <option value="">none</option>
              {places.map(({ address }) => (
                <option key={address} value={address}>
                  {sayAddress(address)}
                </option>
              ))}
            </select>
          </Flex>
        )}
      </Box>
      <Flex gap="2">
        <Main disabled={scene === undefined} onClick={begin}>
          Begin with these values
        </Main>
        <Plain onClick={onClose}>Cancel</Plain>
      </Flex>
    </>
  )
}

function EntryValue({
  entry,
  value,
  onChange,
}: {
  entry: LinkedEntry
  value: Value
  onChange: (value: Value) => void
}) {
  const label = `Value of ${plainId(entry.id)}`
  switch (entry.kind) {
    case 'flag':
      return (
        <input
          type="checkbox"
          aria-label={label}
          checked={value === true}
          onChange={(event) => onChange(event.target.checked)}
        />
      )
    case 'switch':
      return (
        <select
          className="field"
          aria-label={label}
          value={String(value)}
          onChange={(event) => onChange(event.target.value)}
        >
          {entry.positions.map((position) => (
            <option key={position} value={position}>
              {plainId(position)}
            </option>
          ))}
        </select>
      )
    case 'text':
      return (
        <input
          className="field"
          aria-label={label}
          value={String(value)}
          onChange={(event) => onChange(event.target.value)}
          style={{ width: '7rem' }}
        />
      )
    case 'counter':
    case 'item': {
      const within = (number: number) =>
        Math.min(entry.max, Math.max(entry.min, Number.isFinite(number) ? Math.trunc(number) : entry.min))
      return (
        <input
          className="field number"
          type="number"
          aria-label={label}
          min={entry.min}
          max={entry.max}
          value={Number(value)}
          onChange={(event) => onChange(within(event.target.valueAsNumber))}
        />
      )
    }
  }
}
