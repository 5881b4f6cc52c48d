'use client'

import { beatOf } from '../../core/base/address'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Quest } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'
import { sayAddress } from '../../session/names'
import { rowName } from '../../session/say-finding'
import { Quiet } from '../../ui/buttons'
import { useGoTo } from '../shared/session/use-go-to'
import { useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { BetweenDialog } from './between-dialog'
import { trackMoves, type TrackMove } from './track-layout'
import { EditPlain, EditQuiet, EditSelect } from '../shared/fields/edits'

interface Props {
  readonly quest: Quest
  readonly facts: QuestFacts | undefined
  readonly onChange: (quest: Quest) => void
}

/** Each move with what really makes it; moves nobody makes and moves nobody declared stand out. */
export function MoveRows({ quest, facts, onChange }: Props) {
  const [between, setBetween] = useState<TrackMove>()
  const moves = trackMoves(quest, facts)
  const name = (id: string) =>
    id === 'unstarted'
      ? 'not started'
      : (quest.stages.find((stage) => stage.id === id)?.name ?? `${id} (does not exist)`)
  const setMoves = (next: [string, string][] | undefined) => {
    const item = { ...quest, moves: next }
    if (next === undefined) delete item.moves
    onChange(item)
  }
  // a move between stages that are gone is no part of the track, but it can be taken away
  const astray = (quest.moves ?? []).filter(([from, to]) => !moves.some((move) => move.from === from && move.to === to))
  return (
    <Box as="section" aria-label="Moves" mb="5" data-moves={quest.id}>
      <Flex align="baseline" gap="3">
        <Heading as="h2" fontSize="sm" fontWeight={600} color="faded">
          Moves, and what makes them
        </Heading>
        {quest.moves === undefined ? (
          <>
            <Text color="faded" fontSize="sm">
              Any stage may follow any other.
            </Text>
            <EditQuiet onClick={() => setMoves(usualMoves(quest))}>Check its moves</EditQuiet>
          </>
        ) : (
          <EditQuiet onClick={() => setMoves(undefined)}>Check none</EditQuiet>
        )}
      </Flex>
      {moves.map((move) => (
        <MoveRow
          key={`${move.from} ${move.to}`}
          move={move}
          name={name}
          by={facts?.moves.find(({ from, to }) => from === move.from && to === move.to)?.by ?? []}
          onDeclare={() => setMoves([...(quest.moves ?? []), [move.from, move.to]])}
          onTakeAway={
            quest.moves === undefined
              ? undefined
              : () => setMoves(quest.moves!.filter(([from, to]) => from !== move.from || to !== move.to))
          }
          onBetween={() => setBetween(move)}
        />
      ))}
      {astray.map(([from, to]) => (
        <Flex key={`${from} ${to}`} gap="3" py="0.5" color="needle">
          {name(from)} → {name(to)}
          <EditQuiet
            aria-label={`Take the move from ${name(from)} to ${name(to)} away`}
            onClick={() => setMoves(quest.moves!.filter(([a, b]) => a !== from || b !== to))}
          >
            take it away
          </EditQuiet>
        </Flex>
      ))}
      {quest.moves !== undefined && (
        <AddMove quest={quest} name={name} onAdd={(from, to) => setMoves([...quest.moves!, [from, to]])} />
      )}
      {between !== undefined && (
        <BetweenDialog quest={quest} move={between} facts={facts} name={name} onClose={() => setBetween(undefined)} />
      )}
    </Box>
  )
}

/** The usual order: one stage after the other, outcomes from the last that is none. */
function usualMoves(quest: Quest): [string, string][] {
  const stages = ['unstarted', ...quest.stages.map(({ id }) => id)]
  return quest.stages.map(({ id }, at): [string, string] => [
    stages.slice(0, at + 1).findLast((stage) => quest.stages.find((one) => one.id === stage)?.outcome === undefined) ??
      'unstarted',
    id,
  ])
}

interface RowProps {
  readonly move: TrackMove
  readonly name: (id: string) => string
  readonly by: QuestFacts['moves'][number]['by']
  readonly onDeclare: () => void
  readonly onTakeAway: (() => void) | undefined
  readonly onBetween: () => void
}

function MoveRow({ move, name, by, onDeclare, onTakeAway, onBetween }: RowProps) {
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const walk = useWalk()
  const says = `${name(move.from)} to ${name(move.to)}`
  return (
    <Flex
      gap="3"
      py="1"
      align="baseline"
      borderBottom="1px solid"
      borderColor="hairline"
      data-move={`${move.from} ${move.to}`}
      data-move-kind={move.kind}
    >
      <Text w="19rem" flexShrink={0} fontFamily="story">
        {name(move.from)} → {name(move.to)}
      </Text>
      <Box flex="1" minW="0">
        {move.kind === 'unmade' && <Text color="ochre">nobody makes this move</Text>}
        {move.kind === 'undeclared' && <Text color="needle">the quest does not have this move</Text>}
        {by.map(({ owner, route }) => (
          <Flex key={owner} gap="2" align="baseline">
            <Quiet px="0" color="ink" whiteSpace="normal" aria-label={`Go to it: ${owner}`} onClick={() => goTo(owner)}>
              {rowName(story, owner)}
              <Text as="span" color="faded" ml="2" fontSize="sm">
                {sayAddress(beatOf(owner) ?? owner, story)}
              </Text>
            </Quiet>
            {route.length > 0 && (
              <Quiet color="needle" aria-label={`Walk it: ${owner}`} onClick={() => walk(route)}>
                walk it
              </Quiet>
            )}
          </Flex>
        ))}
      </Box>
      {move.kind === 'undeclared' && (
        <EditQuiet color="kept" aria-label={`Allow the move from ${says}`} onClick={onDeclare}>
          allow it
        </EditQuiet>
      )}
      <EditQuiet aria-label={`A stage between ${name(move.from)} and ${name(move.to)}`} onClick={onBetween}>
        + stage between
      </EditQuiet>
      {onTakeAway !== undefined && move.kind !== 'undeclared' && (
        <EditQuiet aria-label={`Take the move from ${says} away`} onClick={onTakeAway}>
          take it away
        </EditQuiet>
      )}
    </Flex>
  )
}

function AddMove({
  quest,
  name,
  onAdd,
}: {
  quest: Quest
  name: (id: string) => string
  onAdd: (from: string, to: string) => void
}) {
  const stages = ['unstarted', ...quest.stages.map(({ id }) => id)]
  const [from, setFrom] = useState('unstarted')
  const [to, setTo] = useState('')
  const isKnown = (quest.moves ?? []).some(([a, b]) => a === from && b === to)
  const field = (label: string, value: string, set: (id: string) => void) => (
    <EditSelect aria-label={label} value={value} onChange={(event) => set(event.target.value)}>
      <option value="">…</option>
      {stages.map((id) => (
        <option key={id} value={id}>
          {name(id)}
        </option>
      ))}
    </EditSelect>
  )
  return (
    <Flex gap="2" align="center" pt="1.5" wrap="wrap">
      {field(`Move of ${quest.name} from`, from, setFrom)}→{field(`Move of ${quest.name} to`, to, setTo)}
      <EditPlain disabled={from === '' || to === '' || from === to || isKnown} onClick={() => onAdd(from, to)}>
        Allow
      </EditPlain>
    </Flex>
  )
}
