'use client'

import { plainId } from '../../core/base/ids'
import { Flex, Text } from '@chakra-ui/react'
import { drawTrouble, readDraw, type GivenDraw, type GivenDraws as Draws } from '../../core/simulate/given-draws'
import type { LinkedEntry, LinkedStory } from '../../core/story/linked'
import { Labelled } from './labelled'

/** What is written beside the entries that the game gives, as it is drawn; by entry why it can't be. */
export function readDraws(
  linked: LinkedStory,
  written: Readonly<Record<string, string>>,
): { readonly draws: Draws; readonly troubles: ReadonlyMap<string, string> } {
  const draws: Record<string, GivenDraw> = {}
  const troubles = new Map<string, string>()
  for (const entry of linked.entries) {
    const source = written[entry.id]?.trim() ?? ''
    if (entry.given === undefined || source === '') continue
    const draw = readDraw(entry, source)
    const trouble = draw.ok ? drawTrouble(linked, { [entry.id]: draw.value }) : draw.error
    if (trouble !== undefined) troubles.set(entry.id, trouble)
    else if (draw.ok) draws[entry.id] = draw.value
  }
  return { draws, troubles }
}

interface Props {
  readonly linked: LinkedStory
  readonly draws: Readonly<Record<string, string>>
  readonly troubles: ReadonlyMap<string, string>
  readonly onChange: (draws: Readonly<Record<string, string>>) => void
}

/** How the game comes to what it gives: one value as likely as another, or as it is written here. */
export function GivenDraws({ linked, draws, troubles, onChange }: Props) {
  const given = linked.entries.filter((entry) => entry.given !== undefined)
  return given.map((entry) => {
    const trouble = troubles.get(entry.id)
    return (
      <Labelled key={entry.id} name={`The game gives ${entry.entry.name ?? plainId(entry.id)}`}>
        <Flex direction="column" maxW="15rem">
          <input
            className="field"
            size={18}
            data-draw={entry.id}
            value={draws[entry.id] ?? ''}
            placeholder="each as likely"
            title={`Values with how likely they are beside each other: ${exampleOf(entry)}. Left empty, one is as likely as another.`}
            aria-invalid={trouble !== undefined}
            onChange={(event) => onChange({ ...draws, [entry.id]: event.target.value })}
          />
          <Text fontSize="xs" color={trouble === undefined ? 'faded' : 'needle'}>
            {trouble ?? `for example ${exampleOf(entry)}`}
          </Text>
        </Flex>
      </Labelled>
    )
  })
}

function exampleOf({ kind, positions, min, max }: LinkedEntry): string {
  switch (kind) {
    case 'flag':
      return 'yes:1, no:3'
    case 'switch':
      return positions
        .map((position, at) => `${position}:${positions.length - at}`)
        .slice(0, 3)
        .join(', ')
    case 'counter':
    case 'item':
      return `${min}..${Math.min(max, min + Math.max(1, Math.trunc((max - min) / 2)))}`
    case 'text':
      return 'Odile:3, Ansgar:1'
  }
}
