'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { freshId } from '../../core/base/ids'
import type { ReadingList } from '../../core/survey/questions/reading-routes'
import type { SurveyReport } from '../../session/survey-report'
import type { Change } from '../../core/story/changes/types'
import type { Route } from '../../core/story/types'
import { itemName } from '../../session/names'
import { Plain, Quiet } from '../../ui/buttons'
import { EditPlain } from '../shared/fields/edits'
import { useAsk } from '../shared/session/use-ask'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { said } from '../shared/said'

/** Routes that together show every reached choice, line and variant: what to read for a complete play-through. */
export function ReadingRoutes({ result }: { result: SurveyReport }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const walk = useWalk()
  const [made, setMade] = useState<{ readonly of: SurveyReport; readonly list: ReadingList | 'too many' }>()
  const [busy, setBusy] = useState(false)
  const list = made?.of === result ? made.list : undefined
  const ask = useAsk()
  const make = async () => {
    setBusy(true)
    const found = await ask('reading-list', {})
    if (found === undefined) return
    setBusy(false)
    if (found.ok) setMade({ of: result, list: found.value })
    else session.tell(`The reading list could not be made: ${found.error}.`)
  }
  const keepAll = (routes: ReadingList['routes']) => {
    const taken = new Set((story.routes ?? []).map(({ id }) => id))
    const changes = routes.map((route, at): Change => {
      const id = freshId(`reading_${at + 1}`, (one) => taken.has(one))
      taken.add(id)
      const item: Route = {
        id,
        name: `Reading ${at + 1}`,
        decisions: [...route.decisions],
        ...(route.ending === undefined ? {} : { expect: { ending: route.ending } }),
      }
      return { op: 'insert', in: { list: 'routes' }, at: (story.routes?.length ?? 0) + at, item }
    })
    session.edit({ op: 'batch', changes })
  }
  return (
    <Box as="section" mt="8" aria-label="Reading list">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="1">
        Reading list
      </Heading>
      <Flex gap="3" align="baseline" mb="1" wrap="wrap">
        <Text color="faded" flex="1" minW="20rem">
          {list === undefined
            ? 'The fewest playthroughs found in which every choice is taken and every line and variant is read.'
            : list === 'too many'
              ? 'Too much is open at once to make one.'
              : list.routes.length === 0
                ? 'The story shows nothing to read yet.'
                : `${said(list.routes.length, 'playthrough')}, ${list.decisions} decisions in all, show everything that any route shows.`}
        </Text>
        {list === undefined && (
          <Plain disabled={busy} onClick={() => void make()}>
            {busy ? 'Making it …' : 'Make a reading list'}
          </Plain>
        )}
        {list !== undefined && list !== 'too many' && list.routes.length > 0 && (
          <EditPlain onClick={() => keepAll(list.routes)}>Keep them all as routes</EditPlain>
        )}
      </Flex>
      {list !== undefined &&
        list !== 'too many' &&
        list.routes.map((route, at) => (
          <Flex
            key={at}
            gap="3"
            py="1"
            align="baseline"
            borderBottom="1px solid"
            borderColor="hairline"
            data-reading={at + 1}
          >
            <Text flex="1" minW="0">
              Playthrough {at + 1}
              <Text as="span" color="faded">
                {' '}
                · {route.decisions.length} decisions, {route.fresh} things not read before
                {route.ending === undefined ? '' : ` · ends with “${itemName(story, 'endings', route.ending)}”`}
              </Text>
            </Text>
            <Quiet color="needle" aria-label={`Walk it: playthrough ${at + 1}`} onClick={() => walk(route.decisions)}>
              walk it
            </Quiet>
          </Flex>
        ))}
    </Box>
  )
}
