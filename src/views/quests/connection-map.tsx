'use client'

import { Box, chakra } from '@chakra-ui/react'
import { linkHorizontal } from 'd3-shape'
import type { Quest } from '../../core/story/types'
import type { QuestLink, Rivals } from '../../core/survey/questions/quests/quest-sites'
import { storyNames } from '../../session/names'
import { useSessionState } from '../shared/session/use-session'

/** Sizes in pixels. */
const WIDTH = 176
const BETWEEN = 190
const ROW = 44
const LETTERS = 26

interface Line {
  readonly name: string
  readonly row: number
  readonly says: string
}

/** This quest in the middle, those whose stages open it on the left, those it opens on the right, its rivals below, joined by a double line. */
export function ConnectionMap({
  quest,
  links,
  rivals,
}: {
  quest: Quest
  links: readonly QuestLink[]
  rivals: readonly Rivals[]
}) {
  const names = storyNames(useSessionState((state) => state.story))
  const lines = (side: 'from' | 'to'): Line[] => {
    const found = new Map<string, Set<string>>()
    for (const link of links) {
      const other = side === 'from' ? link.from : link.to
      if (other === quest.id) continue
      const says = `${link.stages.map((stage) => names.stage(link.from, stage)).join(' or ')} → ${names.stage(link.to, link.sets)}`
      found.set(other, (found.get(other) ?? new Set()).add(says))
    }
    return [...found].map(([id, says], row) => ({ name: names.quest(id), row, says: [...says].join('; ') }))
  }
  const left = lines('from')
  const right = lines('to')
  const below = rivals.map(({ quests }) => names.quest(quests.find((id) => id !== quest.id)!))
  if (left.length + right.length + below.length === 0) return null
  const rows = Math.max(left.length, right.length, 1 + below.length)
  const middle = left.length === 0 ? 1 : WIDTH + BETWEEN
  const link = linkHorizontal<{ from: [number, number]; to: [number, number] }, [number, number]>()
    .source(({ from }) => from)
    .target(({ to }) => to)
  const box = (name: string, x: number, row: number, strong = false) => (
    <g key={`${x} ${row}`} transform={`translate(${x} ${row * ROW + 4})`}>
      <chakra.rect
        width={WIDTH}
        height={ROW - 14}
        rx="3"
        fill="sheet"
        stroke={strong ? 'ink' : 'edge'}
        strokeWidth={strong ? 2 : 1}
      />
      <chakra.text x={WIDTH / 2} y={(ROW - 14) / 2 + 5} textAnchor="middle" fill="ink" fontFamily="story">
        {shortened(name)}
        <title>{name}</title>
      </chakra.text>
    </g>
  )
  const said = (text: string, x: number, y: number) => (
    <chakra.text x={x} y={y} textAnchor="middle" fontSize="11px" fill="faded">
      {shortened(text)}
      <title>{text}</title>
    </chakra.text>
  )
  const height = (row: number) => row * ROW + 4 + (ROW - 14) / 2
  return (
    <Box
      overflowX="auto"
      my="2"
      tabIndex={0}
      role="group"
      aria-label={`Quests connected with ${quest.name}`}
      data-connections={left.length + right.length + below.length}
    >
      <svg
        width={middle + WIDTH + (right.length === 0 ? 2 : BETWEEN + WIDTH + 2)}
        height={rows * ROW}
        aria-hidden="true"
      >
        {left.map(({ name, row, says }) => (
          <chakra.g key={`l${name}`} color="kept">
            <path
              d={link({ from: [WIDTH, height(row)], to: [middle, height(0)] }) ?? ''}
              fill="none"
              stroke="currentColor"
              strokeWidth="1.5"
            />
            {said(says, WIDTH + BETWEEN / 2, (height(row) + height(0)) / 2 - 5)}
          </chakra.g>
        ))}
        {right.map(({ name, row, says }) => (
          <chakra.g key={`r${name}`} color="kept">
            <path
              d={link({ from: [middle + WIDTH, height(0)], to: [middle + WIDTH + BETWEEN, height(row)] }) ?? ''}
              fill="none"
              stroke="currentColor"
              strokeWidth="1.5"
            />
            {said(says, middle + WIDTH + BETWEEN / 2, (height(row) + height(0)) / 2 - 5)}
          </chakra.g>
        ))}
        {below.map((name, at) => (
          <chakra.g key={`b${name}`} color="ochre">
            <path
              d={`M${middle + WIDTH / 2 - 2} ${height(at) + 14}v${ROW - 28}M${middle + WIDTH / 2 + 2} ${height(at) + 14}v${ROW - 28}`}
              stroke="currentColor"
              strokeWidth="1.5"
            />
          </chakra.g>
        ))}
        {left.map(({ name, row }) => box(name, 0, row))}
        {right.map(({ name, row }) => box(name, middle + WIDTH + BETWEEN, row))}
        {below.map((name, at) => box(name, middle, at + 1))}
        {box(quest.name, middle, 0, true)}
      </svg>
    </Box>
  )
}

function shortened(text: string): string {
  return text.length <= LETTERS ? text : `${text.slice(0, LETTERS - 1)}…`
}
