'use client'

import { plainId } from '../../core/base/ids'
import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import type { Expectation, Route, Story } from '../../core/story/types'
import { expectationCondition } from '../../core/survey/questions/find-route'
import type { SurveyReport } from '../../session/survey-report'
import { itemName, sayValue } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { DraftText } from '../shared/fields/draft-text'
import { useSession, useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'
import { said } from '../shared/said'
import { EditQuiet } from '../shared/fields/edits'

/** Runs that were kept, each played again after every edit. */
export function KeptRoutes({ result }: { result: SurveyReport }) {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const walk = useWalk()
  const routes = story.routes ?? []
  const mend = async (route: Route, replace: (item: Route) => unknown) => {
    const condition = route.expect && expectationCondition(route.expect)
    if (condition === undefined)
      return session.tell(`“${route.name}” expects nothing that a new route could come to; walk it and keep it anew.`)
    const answer = await session.survey.ask('find', { condition })
    if (!answer.ok) return session.tell(`“${route.name}” could not be mended: ${answer.error}.`)
    const found = answer.value
    if (found.kind === 'route') replace({ ...route, decisions: [...found.route] })
    else
      session.tell(
        found.kind === 'none'
          ? `No route comes to what “${route.name}” expects any more.`
          : `“${route.name}” could not be mended: ${found.kind === 'undecided' ? 'the story is too large to tell within the time' : found.message}.`,
      )
  }
  return (
    <Box as="section" mt="8" aria-label="Routes">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        Kept routes
      </Heading>
      {routes.length === 0 && (
        <Text color="faded">
          A run that is kept in Rehearse is played again after every edit; when a step no longer works it is told here.
        </Text>
      )}
      {routes.map((route, at) => {
        const broken = result.findings.find(({ kind, key }) => kind === 'route-broken' && key[0] === route.id)
        const replace = (item: Route) => session.edit({ op: 'replace', in: { list: 'routes' }, id: route.id, at, item })
        return (
          <Flex
            key={route.id}
            align="baseline"
            gap="2.5"
            py="1"
            borderBottom="1px solid"
            borderColor="hairline"
            data-route={route.id}
            data-route-broken={broken !== undefined}
          >
            <VerdictMark verdict={broken === undefined ? 'reached' : 'unreached'} />
            <Box flex="1" minW="0">
              <Box fontFamily="story">
                <DraftText
                  label={`Name of the route ${route.id}`}
                  value={route.name}
                  single
                  onCommit={(name) => name.trim() !== '' && replace({ ...route, name: name.trim() })}
                />
              </Box>
              <Box color="faded" fontSize="sm">
                <DraftText
                  label={`Note on the route ${route.id}`}
                  placeholder="note"
                  value={route.notes ?? ''}
                  onCommit={(notes) => replace(withNote(route, notes))}
                />
              </Box>
              <Text color={broken === undefined ? 'faded' : 'needle'} fontSize="sm">
                {broken === undefined
                  ? `${said(route.decisions.length, 'decision')}${sayExpectation(story, route.expect)}`
                  : broken.message}
              </Text>
            </Box>
            {broken !== undefined && (
              <EditQuiet
                aria-label={`Mend: ${route.name}`}
                title="The shortest route that still comes to what is expected"
                onClick={() => void mend(route, replace)}
              >
                mend
              </EditQuiet>
            )}
            <Quiet color="needle" aria-label={`Walk it: ${route.name}`} onClick={() => walk(route.decisions)}>
              walk it
            </Quiet>
            <EditQuiet
              aria-label={`Delete the route ${route.name}`}
              onClick={() => session.edit({ op: 'remove', in: { list: 'routes' }, id: route.id, at })}
            >
              Delete
            </EditQuiet>
          </Flex>
        )
      })}
    </Box>
  )
}

function withNote(route: Route, notes: string): Route {
  const next = { ...route, notes }
  if (notes === '') delete (next as Route).notes
  return next
}

function sayExpectation(story: Story, expect: Expectation | undefined): string {
  if (expect === undefined) return ''
  const parts = [
    ...(expect.ending === undefined ? [] : [`ends with “${itemName(story, 'endings', expect.ending)}”`]),
    ...Object.entries(expect.stages ?? {}).map(([quest, stage]) =>
      stage === 'unstarted' ? `${quest} not started` : itemName(story, 'stages', `${quest}.${stage}`),
    ),
    ...Object.entries(expect.ledger ?? {}).map(([id, value]) => `${plainId(id)}: ${sayValue(value)}`),
  ]
  return parts.length === 0 ? '' : ` · ${parts.join(', ')}`
}
