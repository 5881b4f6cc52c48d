'use client'

import { ownerOf, parseAddress } from '../../core/base/address'
import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { CallSheet, Column } from '../../core/survey/questions/quests/call-sheet'
import { isGroup, type Quest, type Story } from '../../core/story/types'
import { beatAt, choiceAt } from '../../core/story/beat-at'
import { storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { useFindings } from '../shared/session/findings'
import { useGoTo } from '../shared/session/use-go-to'
import { useSessionState } from '../shared/session/use-session'
import { Places } from './places'
import { NoAnswer } from '../shared/session/no-answer'
import { useAnswer } from '../shared/session/use-answer'
import { CellView } from './call-sheet-cell'

const MEETINGS = ':meetings'
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
      {asked.status === 'failed' && <NoAnswer {...asked} />}
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
            stage === 'unstarted' ? 'not started' : names.stage(at === 0 ? sheet.axis.quest : sheet.axis.and!, stage),
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
