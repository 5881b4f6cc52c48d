'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useParams, usePathname, useRouter } from 'next/navigation'
import { useEffect, useRef, useState } from 'react'
import type { GameState } from '../../core/contract/live'
import { replay } from '../../core/play/replay'
import { saveOf } from '../../core/play/save'
import { playThrough } from '../../core/play/transcript'
import type { LiveGame } from '../../session/live-line'
import { beatName, sayValue, storyNames } from '../../session/names'
import { Plain, Quiet } from '../../ui/buttons'
import { useLinked, useSession, useSessionState } from '../shared/session/use-session'
import { useLive, useLiveState } from './live-context'

/** The game that is followed: where it is, what it says and remembers, beside whatever one works at. */
export function FollowedGame() {
  const { games, following } = useLiveState()
  const game = games.find(({ id }) => id === following)
  return game === undefined ? null : <Followed game={game} />
}

function Followed({ game }: { game: LiveGame }) {
  const live = useLive()
  const story = useSessionState((state) => state.story)
  const { state } = game
  useGoingAlong(state?.beat ?? undefined)
  return (
    <Box
      as="aside"
      aria-label={`The game ${game.name}`}
      w="21rem"
      flexShrink={0}
      borderLeft="1px solid"
      borderColor="hairline"
      bg="sheet"
      overflowY="auto"
      px="4"
      py="3"
      fontSize="sm"
    >
      <Flex align="baseline" justify="space-between" mb="1">
        <Text as="h2" fontFamily="story" fontSize="md">
          {game.name}
        </Text>
        <Quiet onClick={() => live?.follow(undefined)}>Stop following</Quiet>
      </Flex>
      {state === undefined ? (
        <Text color="faded">It has joined and not said yet where it is.</Text>
      ) : (
        <>
          <Text mb="2" data-game-at={state.beat ?? ''}>
            at <strong>{state.beat === null ? 'no beat' : beatName(story, state.beat)}</strong>, {SAYS[state.status]}
          </Text>
          <Heard game={game} />
          <Choices state={state} before={game.before} />
          <Remembered state={state} before={game.before} />
          <Send game={game} />
        </>
      )}
    </Box>
  )
}

const SAYS: Readonly<Record<GameState['status'], string>> = {
  choice: 'where the player chooses',
  word: 'where the player writes a word',
  ended: 'where the story has ended',
  stuck: 'stuck',
  endless: 'going round by itself',
  nowhere: 'without a beginning',
}

/** The Desk goes where the game goes, unless somebody is writing there. */
function useGoingAlong(beat: string | undefined): void {
  const session = useSession()
  const path = usePathname()
  const isDesk = path.endsWith('/desk')
  useEffect(() => {
    if (beat === undefined || !isDesk) return
    const writes = document.activeElement?.matches('textarea, input, [contenteditable=true]') ?? false
    if (!writes) session.goTo(beat)
  }, [beat, isDesk, session])
}

function Heard({ game }: { game: LiveGame }) {
  const end = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const list = end.current
    if (list !== null) list.scrollTop = list.scrollHeight
  }, [game.heard])
  return (
    <Box
      ref={end}
      role="log"
      aria-label="What the game says"
      tabIndex={0}
      maxH="16rem"
      overflowY="auto"
      border="1px solid"
      borderColor="hairline"
      px="3"
      py="2"
      mb="3"
    >
      {game.heard.map((one, at) =>
        one.kind === 'line' ? (
          <Text key={at} fontFamily="story" fontStyle={one.manner === 'action' ? 'italic' : undefined} mb="1">
            {one.name !== undefined && one.manner !== 'action' && (
              <Text as="span" fontVariantCaps="all-small-caps" color="faded" mr="2">
                {one.name}
              </Text>
            )}
            {one.text}
          </Text>
        ) : (
          <Text key={at} color={one.kind === 'note' ? 'needle' : 'faded'} mb="1">
            {one.kind === 'did' ? `▸ ${one.text}` : one.text}
          </Text>
        ),
      )}
    </Box>
  )
}

function Choices({ state, before }: { state: GameState; before: GameState | undefined }) {
  if (state.choices.length === 0) return null
  const isSame = before?.beat === state.beat
  const was = new Map(before?.choices.map(({ id, open }) => [id, open]))
  return (
    <Box as="ul" aria-label="Its choices" listStyleType="none" mb="3">
      {state.choices.map(({ id, text, open }) => {
        const turned = isSame && (was.get(id) ?? false) !== open ? (open ? ' — has opened' : ' — has closed') : ''
        return (
          <Text as="li" key={id} color={open ? 'ink' : 'faded'} data-game-choice={id}>
            {open ? '○' : '×'} {text}
            {turned}
          </Text>
        )
      })}
      {isSame &&
        before.choices
          .filter(({ id }) => !state.choices.some((choice) => choice.id === id))
          .map(({ id, text }) => (
            <Text as="li" key={id} color="faded" data-game-choice={id}>
              × {text} — has closed
            </Text>
          ))}
    </Box>
  )
}

function Remembered({ state, before }: { state: GameState; before: GameState | undefined }) {
  const names = storyNames(useSessionState((all) => all.story))
  const entries = Object.entries(state.ledger).map(([id, value]) => ({
    id,
    name: names.entry(id),
    now: sayValue(value),
    was: before?.ledger[id] === undefined ? sayValue(value) : sayValue(before.ledger[id]),
  }))
  const quests = Object.entries(state.stages)
    .filter(([, stage]) => stage !== 'unstarted')
    .map(([id, stage]) => ({
      id: `quest.${id}`,
      name: names.quest(id),
      now: names.stage(id, stage),
      was: names.stage(id, before?.stages[id] ?? stage),
    }))
  return (
    <Box as="table" aria-label="What the game remembers" w="100%" mb="3">
      <tbody>
        {[...quests, ...entries].map(({ id, name, now, was }) => (
          <tr key={id} data-game-entry={id}>
            <Box as="th" textAlign="left" fontWeight={400} color="faded" pr="3">
              {name}
            </Box>
            <Box as="td" fontWeight={now === was ? 400 : 600}>
              {now}
              {now !== was && (
                <Text as="span" color="faded" fontWeight={400}>
                  {' '}
                  was {was}
                </Text>
              )}
            </Box>
          </tr>
        ))}
      </tbody>
    </Box>
  )
}

/** Puts the game where the rehearsal is, or where the beat at hand is first come to: states that can occur. */
function Send({ game }: { game: LiveGame }) {
  const live = useLive()
  const session = useSession()
  const linked = useLinked()
  const router = useRouter()
  const { id } = useParams<{ id: string }>()
  const isRehearsal = usePathname().endsWith('/rehearse')
  const beat = useSessionState((state) => state.beat)
  const story = useSessionState((state) => state.story)
  const [trouble, setTrouble] = useState<string>()
  const send = async () => {
    setTrouble(undefined)
    let state
    if (isRehearsal) {
      const { from, decisions } = session.getState().rehearsal
      state = playThrough(linked, decisions, from).steps.at(-1)!.state
    } else {
      const route = await session.survey.ask('route-to', { what: 'beats', address: beat ?? '' })
      if (!route.ok || route.value === undefined) return setTrouble('No route leads there.')
      state = replay(linked, route.value).state
    }
    const save = saveOf(linked, state)
    if (save === undefined) return setTrouble('The story does not rest there.')
    const sent = await live?.send(game.id, save)
    if (sent !== undefined && !sent.ok) setTrouble(`The game did not go there: ${sent.error}.`)
  }
  return (
    <Box>
      <Plain onClick={() => void send()}>
        {isRehearsal
          ? 'Send it where the rehearsal is'
          : `Send it to “${beat === undefined ? '' : beatName(story, beat)}”`}
      </Plain>
      {!isRehearsal && (
        <Quiet ml="2" onClick={() => router.push(`/story/${id}/rehearse`)}>
          or from a rehearsal
        </Quiet>
      )}
      {trouble !== undefined && (
        <Text role="alert" color="needle" mt="1">
          {trouble}
        </Text>
      )}
    </Box>
  )
}
