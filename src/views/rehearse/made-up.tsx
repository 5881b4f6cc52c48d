'use client'

import { Box } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import type { PlayState } from '../../core/play/state'
import type { Setup } from '../../core/play/step'
import { expectationCondition, type FoundRoute } from '../../core/survey/questions/find-route'
import type { LinkedStory } from '../../core/story/linked'
import { sayAddress } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { askUntilLeft } from '../shared/session/ask-until-left'
import { useSession } from '../shared/session/use-session'
import { said } from '../shared/said'

/** Says that a rehearsal began with made-up values, and whether any route comes to them. */
export function MadeUp({ linked, from, first }: { linked: LinkedStory; from: Setup; first: PlayState }) {
  const session = useSession()
  const [found, setFound] = useState<FoundRoute>()
  useEffect(() => {
    const beat = linked.beats[first.at]
    if (beat === undefined) return
    const expected = expectationCondition({
      stages: Object.fromEntries(linked.quests.map(({ id, index, stages }) => [id, stages[first.stages[index]!]!])),
      // what lives in other scenes only can't be asked about here
      ledger: Object.fromEntries(
        linked.entries.filter(({ scene }) => scene === -1).map(({ id, index }) => [id, first.entries[index]!]),
      ),
    })
    const condition = `at('${beat.address}')${expected === undefined ? '' : ` && ${expected}`}`
    return askUntilLeft(session, 'find', { condition }, (answer) =>
      setFound(answer.ok ? answer.value : { kind: 'unreadable', message: answer.error }),
    )
    // asked once for the values one began with
    // oxlint-disable-next-line react/exhaustive-deps
  }, [session, from])
  return (
    <Box
      role="status"
      border="1px dashed"
      borderColor="ochre"
      bg="ochre.wash"
      px="4"
      py="2"
      mb="4"
      data-made-up={found?.kind ?? 'asking'}
    >
      Made up: this run began at {sayAddress(from.beat)} with values set by hand.{' '}
      {found === undefined && 'Looking whether they can occur …'}
      {found?.kind === 'none' && 'They can’t occur there: no route comes to this beat with these values.'}
      {found?.kind === 'undecided' && 'The story is too large to tell whether they can occur.'}
      {found?.kind === 'unreadable' && found.message}
      {found?.kind === 'route' && (
        <>
          They can occur.{' '}
          <Quiet color="needle" onClick={() => session.rehearse(found.route)}>
            Take the real route of {said(found.route.length, 'decision')} instead
          </Quiet>
        </>
      )}
    </Box>
  )
}
