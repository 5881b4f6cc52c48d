'use client'

import { plainId } from '../../core/base/ids'
import { parseAddress } from '../../core/base/address'
import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import type { CallSheet, Cell, DependsOn, Playing } from '../../core/survey/questions/quests/call-sheet'
import { writeCell } from '../../core/story/quests/write-cell'
import { plainLinesIn, type Story } from '../../core/story/types'
import { beatAt } from '../../core/story/beat-at'
import { sayValue, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { EditQuiet } from '../shared/fields/edits'

const LETTERS = 90

interface CellProps {
  readonly sheet: CallSheet
  readonly person: string
  readonly column: number
  readonly stage: string
  /** The stage that a cell can be copied to. */
  readonly next: string | undefined
  readonly quest: string
  readonly canWrite: boolean
  /** The column to the left, as far as it is shown. */
  readonly previous: number | undefined
}

export function CellView({ sheet, person, column, stage, next, quest, canWrite, previous }: CellProps) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const names = storyNames(story)
  const row = sheet.rows[person]!
  const cell = row[column]
  // somebody is approached by the choice that is used at another stage
  const encounter = (cell ?? row.find((one) => one !== undefined))?.plays[0]?.encounter
  const write = (at: string, like?: string) => {
    if (encounter === undefined) return
    const made = writeCell(story, {
      encounter: cell?.plays[0]?.encounter ?? encounter,
      quest,
      stage: at,
      ...(like === undefined ? {} : { like }),
    })
    if (!made.ok) return session.tell(made.error)
    session.edit(made.value.change)
    goTo(`${made.value.beat}#line1`)
  }
  if (cell === undefined) {
    return (
      <td data-cell={`${person} ${stage}`} data-silent="">
        {sheet.reached[column] && (
          <Text color="faded" fontSize="sm">
            silence
            {canWrite && (
              <EditQuiet
                fontSize="sm"
                ml="1"
                aria-label={`Write what ${person} says at ${stage}`}
                onClick={() => write(stage)}
              >
                write it
              </EditQuiet>
            )}
          </Text>
        )}
      </td>
    )
  }
  const before = row[previous ?? -1]
  const isAsBefore = before !== undefined && sameCells(before, cell)
  const outcome = story.quests?.find(({ id }) => id === quest)?.stages.find(({ id }) => id === stage)?.outcome
  return (
    <td data-cell={`${person} ${stage}`}>
      {(cell.offers.length > 0 || cell.movesOn || outcome !== undefined) && canWrite && (
        <Flex gap="2" fontSize="xs" color="kept" wrap="wrap" mb="0.5">
          {cell.offers.map((id) => (
            <span key={id} data-offers={id}>
              ◆ offers {names.quest(id)}
            </span>
          ))}
          {cell.movesOn && outcome === undefined && <span data-moves-on="">▸ under way</span>}
          {outcome !== undefined && <chakra.span color="faded">● done</chakra.span>}
        </Flex>
      )}
      {isAsBefore ? (
        <Text color="faded" fontSize="sm" data-as-before="">
          as before
        </Text>
      ) : (
        cell.plays.map((playing, at) => (
          <PlayingView
            key={playingName(playing)}
            playing={playing}
            on={cell.plays.length > 1 ? sayWhen(cell, at, names) : undefined}
          />
        ))
      )}
      {canWrite && (
        <Flex gap="1" fontSize="xs">
          <EditQuiet
            fontSize="xs"
            px="1"
            title="A beat of its own for this stage"
            aria-label={`Write another for ${person} at ${stage}`}
            onClick={() => write(stage)}
          >
            write another
          </EditQuiet>
          {next !== undefined && (
            <EditQuiet
              fontSize="xs"
              px="1"
              title="A copy of it for the next stage, to be changed there"
              aria-label={`Copy ${person} at ${stage} to the next stage`}
              onClick={() => write(next, cell.plays[0]!.beat)}
            >
              copy to next →
            </EditQuiet>
          )}
        </Flex>
      )}
    </td>
  )
}

function playingName({ encounter, line, beat }: Playing): string {
  return `${encounter} ${line ?? beat}`
}

/** Whether the same things play at the same values. */
function sameCells(a: Cell, b: Cell): boolean {
  const names = (cell: Cell) =>
    JSON.stringify(
      cell.plays
        .map((playing, at) => [playingName(playing), cell.dependsOn.map(({ of, id, values }) => [of, id, values[at]])])
        .sort(),
    )
  return names(a) === names(b)
}

function PlayingView({ playing, on }: { playing: Playing; on: string | undefined }) {
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const walk = useWalk()
  const text = firstWords(story, playing)
  return (
    <Box mb="1">
      <Quiet
        px="0"
        color="ink"
        whiteSpace="normal"
        display="inline"
        fontFamily="story"
        aria-label={`Go to it: ${playing.line ?? playing.beat}`}
        onClick={() => goTo(playing.line ?? playing.beat)}
      >
        {text}
      </Quiet>{' '}
      <Quiet
        fontSize="xs"
        color="needle"
        px="1"
        aria-label={`Walk it: ${playing.line ?? playing.beat}`}
        onClick={() => walk(playing.route)}
      >
        walk it
      </Quiet>
      {on !== undefined && (
        <Text color="faded" fontSize="xs">
          {on}
        </Text>
      )}
    </Box>
  )
}

/** When one of several things plays: by the values at which it does. */
function sayWhen({ dependsOn }: Cell, at: number, names: ReturnType<typeof storyNames>): string {
  if (dependsOn.length === 0) return 'sometimes'
  const values = (one: DependsOn) =>
    one.values[at]!.map((value) => (one.of === 'quest' ? names.stage(one.id, String(value)) : sayValue(value))).join(
      ' or ',
    )
  return `when ${dependsOn.map((one) => `${sayWhat(one, names)} ${values(one)}${one.of === 'visits' ? ' times' : ''}`).join('; ')}`
}

function sayWhat({ of, id }: DependsOn, names: ReturnType<typeof storyNames>): string {
  switch (of) {
    case 'entry':
      return `${plainId(id)} is`
    case 'quest':
      return `${names.quest(id)} is at`
    case 'visits':
      return `${names.beat(id)} was visited`
    case 'taken':
      return `${names.choice(id)} taken:`
  }
}

function firstWords(story: Story, { line, beat }: Playing): string {
  const found = beatAt(story, line ?? '')
  const path = /#line(\d+)(.*)$/.exec(line ?? '')
  const outer = path === null ? undefined : found?.lines?.[Number(path[1]) - 1]
  const inner = outer && plainLinesIn(outer).find(({ suffix }) => suffix === path![2])?.line
  if (inner === undefined) return `(${plainId(parseAddress(beat)?.beat ?? beat)})`
  return inner.text.length > LETTERS ? `${inner.text.slice(0, LETTERS)}…` : inner.text || '(empty line)'
}
