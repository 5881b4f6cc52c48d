'use client'

import { Flex, Text } from '@chakra-ui/react'
import type { QuestionName } from '../../../session/survey-handle'
import { Quiet } from '../../../ui/buttons'
import { useSession, useSessionState } from './use-session'

/** What a question that takes long is about. */
const ABOUT: Readonly<Record<QuestionName, string>> = {
  why: 'why something is not reached',
  'what-if': 'what a change would do',
  compare: 'what two versions differ in',
  carry: 'what becomes of saves',
  find: 'a route',
  'route-to': 'a route',
  'route-of': 'a route',
  'no-return': 'points of no return',
  'quest-facts': 'which moves quests make',
  'call-sheet': 'the call sheet',
  'entry-values': 'which values entries take',
  mend: 'how to mend a finding',
  'chart-by-roads': 'the chart',
  chart: 'the chart',
  outlook: 'from where endings can be reached',
  path: 'a way through the chart',
  uses: 'what is used where',
  'reading-list': 'the reading list',
}

/** A question that takes long: for how long it has been worked at, and how to end that. */
export function Answering() {
  const session = useSession()
  const answering = useSessionState(({ survey }) => (survey.running === undefined ? survey.answering : undefined))
  if (answering === undefined) return null
  const { request, name, took } = answering
  return (
    <Flex align="center" data-answering={name}>
      <Text color="faded">
        working out {ABOUT[name]} · {Math.round(took / 1000)} s
      </Text>
      <Quiet color="needle" onClick={() => session.survey.withdraw(request)} title={`Don’t work out ${ABOUT[name]}`}>
        Stop
      </Quiet>
    </Flex>
  )
}
