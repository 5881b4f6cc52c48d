'use client'

import { ownerOf, parseAddress } from '../../core/base/address'
import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { CallSheet, Cell, Column, DependsOn, Playing } from '../../core/survey/questions/quests/call-sheet'
import { writeCell } from '../../core/story/quests/write-cell'
import { isGroup, type Quest, type Story } from '../../core/story/types'
import { beatAt, choiceAt } from '../../core/story/beat-at'
import { plainId, sayValue, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useFindings } from '../shared/session/findings'
import { useGoTo } from '../shared/session/use-go-to'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { Places } from './places'
import { NoAnswer } from '../shared/session/no-answer'
import { useAnswer } from '../shared/session/use-answer'

const MEETINGS = ':meetings'
const LETTERS = 90
/** Rows that are drawn at first. */
const SHOWN = 40

/** People and things down, stages across: what would really play. */
export function CallSheetView({ quest }: { quest: Quest }) {
  const quests = useSessionState((state) => state.story.quests) ?? []
  const [across, setAcross] = useState('')
  const and = quests.some(({ id }) => id === across && id !== quest.id) ? across : undefined
  const isMeetings = across === MEETINGS
  const asked = useAnswer('call-sheet', `${quest.id} ${across}`, () => ({
    axis: isMeetings ? undefined : { quest: quest.id, ...(and === undefined ? {} : { and }) },
  }))
  return (
    <Box
      as="section"
      aria-label="Call sheet"
      data-call-sheet={asked.status !== 'ready' ? 'waiting' : asked.isFresh ? 'fresh' : 'old'}
    >
      <Flex align="center" gap="3" mb="2" wrap="wrap">
        <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500}>
          Call sheet
        </Heading>
        <Text color="faded">what each would really say, by</Text>
        <select
          className="field"
          aria-label="What stands across"
          value={and ?? (isMeetings ? MEETINGS : '')}
          onChange={(event) => setAcross(event.target.value)}
        >
          <option value="">the stages of this quest</option>
          {quests
            .filter(({ id }) => id !== quest.id)
            .map(({ id, name }) => (
              <option key={id} value={id}>
                this quest and {name}
              </option>
            ))}
          <option value={MEETINGS}>first and later meetings</option>
        </select>
      </Flex>
      {asked.status === 'asking' && <Text color="faded">Working it out …</Text>}
      {asked.status === 'failed' && <NoAnswer message={asked.message} />}
      {asked.status === 'ready' &&
        (asked.answer === 'too many' ? (
          <Text color="faded">The story has too many states to tell within the time for it.</Text>
        ) : (
          <Sheet sheet={asked.answer} quest={quest} isMeetings={isMeetings} />
        ))}
    </Box>
  )
}

function Sheet({ sheet, quest, isMeetings }: { sheet: CallSheet; quest: Quest; isMeetings: boolean }) {
  const story = useSessionState((state) => state.story)
  const [max, setMax] = useState(SHOWN)
  const people = story.cast ?? []
  const met = people.filter(({ id }) => sheet.rows[id] !== undefined)
  const unmet = people.filter(({ id }) => sheet.rows[id] === undefined)
  const columns = sheet.columns
    .map((column, at) => ({ column, at }))
    .filter(({ column, at }) => sheet.reached[at] || column.length === 1)
  const names = storyNames(story)
  const title = (column: Column) =>
    isMeetings
      ? column[0] === 'first'
        ? 'first meeting'
        : 'later meetings'
      : column
          .map((stage, at) =>
            stage === 'unstarted' ? 'unstarted' : names.stage(at === 0 ? sheet.axis.quest : sheet.axis.and!, stage),
          )
          .join(' · ')
  return (
    <>
      <Box overflowX="auto" tabIndex={0} role="group" aria-label={`Call sheet of ${quest.name}`}>
        <chakra.table
          w="100%"
          css={{
            borderCollapse: 'collapse',
            '& th, & td': {
              border: '1px solid',
              borderColor: 'hairline',
              verticalAlign: 'top',
              textAlign: 'left',
              px: '2',
              py: '1.5',
              minWidth: '9rem',
            },
          }}
        >
          <thead>
            <tr>
              <th scope="col">
                <Text color="faded" fontWeight={400} fontSize="sm">
                  who
                </Text>
              </th>
              {columns.map(({ column, at }) => (
                <th scope="col" key={at}>
                  <Text fontFamily="story" fontWeight={500}>
                    {title(column)}
                  </Text>
                  {!sheet.reached[at] && (
                    <Text color="needle" fontSize="xs" fontWeight={400}>
                      never rests at it
                    </Text>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {met.slice(0, max).map((person) => (
              <tr key={person.id} data-call={person.id}>
                <th scope="row">
                  <Text fontWeight={600}>{person.name}</Text>
                  <Hidden person={person.id} />
                </th>
                {columns.map(({ column, at }, index) => (
                  <CellView
                    key={at}
                    sheet={sheet}
                    person={person.id}
                    column={at}
                    stage={column[0]!}
                    next={sheet.axis.and === undefined && !isMeetings ? columns[index + 1]?.column[0] : undefined}
                    quest={quest.id}
                    canWrite={!isMeetings}
                    previous={columns[index - 1]?.at}
                  />
                ))}
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
      {met.length > max && <Quiet onClick={() => setMax(max + SHOWN)}>and {met.length - max} more</Quiet>}
      {met.length === 0 && (
        <Text color="faded">
          Nobody is approached yet. On the Desk, a choice with somebody’s name in its margin (“who”) is an encounter.
        </Text>
      )}
      {unmet.length > 0 && met.length > 0 && (
        <Text color="faded" fontSize="sm" mt="1">
          Approached by no choice:{' '}
          {unmet
            .slice(0, 12)
            .map(({ name }) => name)
            .join(', ')}
          {unmet.length > 12 ? ` and ${unmet.length - 12} more` : ''}
        </Text>
      )}
      {!isMeetings && <Places sheet={sheet} title={title} />}
    </>
  )
}

/** Rules and variants of somebody's conversations that an earlier one hides. */
function Hidden({ person }: { person: string }) {
  const story = useSessionState((state) => state.story)
  const findings = useFindings()
  const goTo = useGoTo()
  // the choices that approach them, and the beats that those lead to
  const own = new Set<string>()
  for (const scene of story.scenes) {
    for (const beat of scene.beats) {
      for (const choice of beat.choices ?? []) {
        if (choice.who !== person) continue
        own.add(`${scene.id}.${beat.id}.${choice.id}`)
        for (const to of typeof choice.to === 'string' ? [choice.to] : choice.to.map((rule) => rule.to)) own.add(to)
      }
    }
  }
  const hidden = findings.filter(
    ({ kind, key }) =>
      kind === 'unreached' &&
      /^(rule|variant)$/.test(parseAddress(key[0]!)?.steps.at(-1)?.of ?? '') &&
      own.has(ownerOf(key[0]!)),
  )
  return hidden.map(({ key }) => {
    const what = key[0]!.includes('.variant') ? 'variant' : 'road'
    const number = Number(/(\d+)$/.exec(key[0]!)![1])
    const open = openBefore(story, key[0]!, number)
    return (
      <Quiet
        key={key[0]}
        px="0"
        fontSize="xs"
        color="ochre"
        whiteSpace="normal"
        fontWeight={400}
        onClick={() => goTo(key[0]!)}
        data-hidden={key[0]}
      >
        {what} {number} is never used{open === undefined ? '' : `: ${what} ${open} hides it`}
      </Quiet>
    )
  })
}

/** The first road or variant before another that has no gate, and so hides it; undefined where none has. */
function openBefore(story: Story, address: string, number: number): number | undefined {
  const beat = beatAt(story, address)
  const line = /#line(\d+)\.variant/.exec(address)
  const group = line === null ? undefined : beat?.lines?.[Number(line[1]) - 1]
  const choice = choiceAt(story, address)
  const list =
    group !== undefined
      ? isGroup(group)
        ? group.firstOf
        : []
      : choice === undefined || typeof choice.to === 'string'
        ? []
        : choice.to
  const at = list.findIndex(({ when }) => when === undefined)
  return at === -1 || at >= number - 1 ? undefined : at + 1
}

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

function CellView({ sheet, person, column, stage, next, quest, canWrite, previous }: CellProps) {
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
    goTo(made.value.beat)
  }
  if (cell === undefined) {
    return (
      <td data-cell={`${person} ${stage}`} data-silent="">
        {sheet.reached[column] && (
          <Text color="faded" fontSize="sm">
            silence
            {canWrite && (
              <Quiet
                fontSize="sm"
                ml="1"
                aria-label={`Write what ${person} says at ${stage}`}
                onClick={() => write(stage)}
              >
                write it
              </Quiet>
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
          <Quiet
            fontSize="xs"
            px="1"
            title="A beat of its own for this stage"
            aria-label={`Write another for ${person} at ${stage}`}
            onClick={() => write(stage)}
          >
            write another
          </Quiet>
          {next !== undefined && (
            <Quiet
              fontSize="xs"
              px="1"
              title="A copy of it for the next stage, to be changed there"
              aria-label={`Copy ${person} at ${stage} to the next stage`}
              onClick={() => write(next, cell.plays[0]!.beat)}
            >
              copy to next →
            </Quiet>
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
  const path = /#line(\d+)(?:\.variant(\d+)\.line(\d+))?$/.exec(line ?? '')
  const outer = path === null ? undefined : found?.lines?.[Number(path[1]) - 1]
  const inner =
    outer === undefined
      ? undefined
      : isGroup(outer)
        ? outer.firstOf[Number(path![2]) - 1]?.lines[Number(path![3]) - 1]
        : outer
  if (inner === undefined) return `(${plainId(parseAddress(beat)?.beat ?? beat)})`
  return inner.text.length > LETTERS ? `${inner.text.slice(0, LETTERS)}…` : inner.text || '(empty line)'
}
