'use client'

import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { linkHorizontal } from 'd3-shape'
import { useMemo } from 'react'
import type { Quest } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'
import { VerdictMark } from '../../ui/marks'
import { useSessionState } from '../shared/session/use-session'
import { verdictOf } from '../shared/session/verdicts'
import { trackMoves, trackStages, type TrackMove } from './track-layout'
import { said } from '../shared/said'

/** Sizes in pixels. */
const WIDTH = 168
const HEIGHT = 58
const BETWEEN = 64
const BELOW = 16

const KINDS: Readonly<
  Record<TrackMove['kind'], { readonly color: string; readonly dash: string | undefined; readonly says: string }>
> = {
  made: { color: 'kept', dash: undefined, says: 'made' },
  unmade: { color: 'ochre', dash: '6 4', says: 'declared, but nobody makes it' },
  undeclared: { color: 'needle', dash: '2 3', says: 'made, but not declared' },
  unknown: { color: 'edge', dash: undefined, says: 'declared' },
}

/** The quest drawn from left to right: its stages, and the moves between them by how they stand. */
export function Track({ quest, facts }: { quest: Quest; facts: QuestFacts | undefined }) {
  const result = useSessionState((state) => state.survey.report)
  const moves = useMemo(() => trackMoves(quest, facts), [quest, facts])
  const stages = useMemo(() => trackStages(quest, moves), [quest, moves])
  const place = (id: string) => {
    const stage = stages.find((one) => one.id === id)!
    return { x: stage.column * (WIDTH + BETWEEN), y: stage.row * (HEIGHT + BELOW) }
  }
  const width = (Math.max(...stages.map(({ column }) => column)) + 1) * (WIDTH + BETWEEN)
  const height = (Math.max(...stages.map(({ row }) => row)) + 1) * (HEIGHT + BELOW)
  const link = linkHorizontal<{ from: [number, number]; to: [number, number] }, [number, number]>()
    .source(({ from }) => from)
    .target(({ to }) => to)
  const path = ({ from, to }: TrackMove) => {
    const a = place(from)
    const b = place(to)
    // a move within a column, or back, goes round below
    if (b.x <= a.x)
      return `M${a.x + WIDTH / 2} ${a.y + HEIGHT}C${a.x + WIDTH / 2} ${a.y + HEIGHT + BELOW * 2} ${b.x + WIDTH / 2} ${b.y + HEIGHT + BELOW * 2} ${b.x + WIDTH / 2} ${b.y + HEIGHT + 5}`
    return link({ from: [a.x + WIDTH, a.y + HEIGHT / 2], to: [b.x - 6, b.y + HEIGHT / 2] }) ?? ''
  }
  return (
    <Box overflowX="auto" mb="4" tabIndex={0} role="group" aria-label={`Track of ${quest.name}`}>
      <Box position="relative" style={{ width: `${width}px`, height: `${height + BELOW}px` }}>
        <svg width={width} height={height + BELOW} style={{ position: 'absolute' }} aria-hidden="true">
          {moves.map((move) => (
            <chakra.g
              key={`${move.from} ${move.to}`}
              color={KINDS[move.kind].color}
              data-track-move={`${move.from} ${move.to}`}
              data-track-kind={move.kind}
            >
              <path
                d={path(move)}
                fill="none"
                stroke="currentColor"
                strokeWidth="2"
                strokeDasharray={KINDS[move.kind].dash}
              />
              {place(move.to).x > place(move.from).x && (
                <path
                  d={`M${place(move.to).x - 8} ${place(move.to).y + HEIGHT / 2 - 4}l8 4l-8 4z`}
                  fill="currentColor"
                />
              )}
              <title>{KINDS[move.kind].says}</title>
            </chakra.g>
          ))}
        </svg>
        {stages.map(({ id }) => {
          const stage = quest.stages.find((one) => one.id === id)
          const { x, y } = place(id)
          const found = result?.reached.stages[`${quest.id}.${id}`]
          const finish = facts?.finish[id]
          return (
            <Flex
              key={id}
              as={stage === undefined ? undefined : 'button'}
              onClick={
                stage === undefined
                  ? undefined
                  : () => document.querySelector<HTMLElement>(`[data-stage="${quest.id}.${id}"] textarea`)?.focus()
              }
              title={stage === undefined ? undefined : 'Edit this stage'}
              textAlign="left"
              position="absolute"
              direction="column"
              justify="center"
              px="3"
              bg="sheet"
              border={stage?.outcome === undefined ? '1px solid' : '2px solid'}
              borderColor={stage?.outcome === 'failure' ? 'ochre' : stage?.outcome === 'success' ? 'kept' : 'edge'}
              borderStyle={stage?.outcome === 'failure' ? 'dashed' : 'solid'}
              borderRadius={stage?.outcome === undefined ? 'sheet' : '14px'}
              style={{ left: `${x}px`, top: `${y}px`, width: `${WIDTH}px`, height: `${HEIGHT}px` }}
              data-track-stage={id}
            >
              <Flex align="center" gap="2">
                {stage !== undefined && <VerdictMark verdict={verdictOf(result, 'stages', `${quest.id}.${id}`)} />}
                <Text fontFamily="story" truncate title={stage?.name}>
                  {stage?.name ?? 'not started'}
                </Text>
              </Flex>
              <Text color="faded" fontSize="xs" truncate>
                {stage === undefined
                  ? 'where each playthrough begins'
                  : [
                      stage.outcome,
                      found && said(found.decisions, 'decision'),
                      finish === 'some' ? 'not always finished' : finish === 'none' ? 'never finished' : undefined,
                    ]
                      .filter(Boolean)
                      .join(' · ')}
              </Text>
            </Flex>
          )
        })}
      </Box>
    </Box>
  )
}
