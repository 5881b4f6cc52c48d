'use client'

import { Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import type { Card } from '../../core/contract/answers'
import { LevelMark, VerdictMark } from '../../ui/marks'
import { said } from '../shared/said'
import { sayMoment } from '../shared/when'

/** What one asks first of a story, in one line: what is reached, what was found, how long it is, what is left to do. */
export function StoryFacts({ card: { facts, isSurveyed, scenes, beats, changedAt } }: { card: Card }) {
  const size = `${said(scenes, 'scene')}, ${said(beats, 'beat')}`
  return (
    <Flex columnGap="4" rowGap="0" wrap="wrap" color="faded" fontSize="sm" data-facts="">
      {facts === null ? (
        <Text>not surveyed yet: open it once</Text>
      ) : (
        <>
          <Ends facts={facts} />
          {facts.errors > 0 && <Fact mark={<LevelMark level="error" />}>{said(facts.errors, 'error')}</Fact>}
          {facts.warnings > 0 && <Fact mark={<LevelMark level="warning" />}>{said(facts.warnings, 'warning')}</Fact>}
          {facts.todos > 0 && <Text color="ochre">{facts.todos} to do</Text>}
        </>
      )}
      <Text>{facts === null ? size : `${size}, ${said(facts.words, 'word')}`}</Text>
      {facts !== null && facts.languages.length > 1 && <Text>{facts.languages.join(', ')}</Text>}
      <Text>
        changed{' '}
        <time dateTime={changedAt} suppressHydrationWarning>
          {sayMoment(changedAt)}
        </time>
        {facts !== null && !isSurveyed && ', not surveyed since'}
      </Text>
    </Flex>
  )
}

function Ends({ facts: { complete, endings, stages } }: { facts: NonNullable<Card['facts']> }) {
  const reached = endings.reached + stages.reached
  const all = endings.of + stages.of
  if (all === 0) return <Text>no endings or stages yet</Text>
  const verdict = reached === all ? 'reached' : complete ? 'unreached' : 'undecided'
  const parts = [endings.of > 0 && `${endings.reached} of ${said(endings.of, 'ending')}`]
  if (stages.of > 0) parts.push(`${stages.reached} of ${said(stages.of, 'stage')}`)
  return (
    <Fact mark={<VerdictMark verdict={verdict} />}>
      {parts.filter(Boolean).join(' and ')} reached{complete ? '' : ' so far'}
    </Fact>
  )
}

function Fact({ mark, children }: { mark: ReactNode; children: ReactNode }) {
  return (
    <Flex as="span" align="center" gap="1.5">
      {mark}
      {children}
    </Flex>
  )
}
