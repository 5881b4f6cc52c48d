'use client'

import { plainId } from '../../core/base/ids'
import { rowName } from '../../session/say-finding'
import { Box, Text } from '@chakra-ui/react'
import { parseExpression } from '../../core/expression/parse'
import { sayCondition } from '../../core/expression/words'
import type { Story } from '../../core/story/types'
import type { Cause, GatePart } from '../../core/survey/questions/why-not'
import { sayValue, storyNames } from '../../session/names'
import { NoAnswer } from '../shared/session/no-answer'
import { useAnswer } from '../shared/session/use-answer'
import { useSessionState } from '../shared/session/use-session'

/** Why nothing comes to an item: the cause, the parts of the gate, and what would have to change. */
export function WhyNotPanel({ address }: { address: string }) {
  const story = useSessionState((state) => state.story)
  const why = useAnswer('why', address, () => ({ address }))
  return (
    <Box mt="2" ml="6" pl="3" borderLeft="2px solid" borderColor="edge" data-why={address}>
      {why.status === 'asking' && <Text color="faded">Looking …</Text>}
      {why.status === 'failed' && <NoAnswer {...why} />}
      {why.status === 'ready' &&
        why.answer.causes.map((cause, at) => <CauseView key={at} cause={cause} story={story} />)}
    </Box>
  )
}

function CauseView({ cause, story }: { cause: Cause; story: Story }) {
  switch (cause.kind) {
    case 'no-road':
      return <Text>No road leads here. Name it as the destination of a choice, or let another beat go on to it.</Text>
    case 'nothing-does':
      return <Text>Nothing in the story does this yet: no beat is this ending, or no effect sets this stage.</Text>
    case 'from-unreached':
      return (
        <Text>
          {rowName(story, cause.address)} leads here, but {rowName(story, cause.unreached)} is itself on no route.
        </Text>
      )
    case 'broken-gate':
      return (
        <Text>
          The gate of {rowName(story, cause.address)} can not be understood: <code>{cause.source}</code>
        </Text>
      )
    case 'hidden':
      return (
        <Text>
          {cause.by === undefined
            ? `${rowName(story, cause.address)} is never asked: the story always goes another way before it comes to this.`
            : `${rowName(story, cause.by)} stands before it and always matches, so ${rowName(story, cause.address)} is never asked. Move it up, or give the earlier one a gate.`}
        </Text>
      )
    case 'leads-nowhere':
      return <Text>{rowName(story, cause.address)} is asked, but leads nowhere.</Text>
    case 'gate':
      return <GateView cause={cause} story={story} />
  }
}

function GateView({ cause, story }: { cause: Cause & { kind: 'gate' }; story: Story }) {
  const isPartial = cause.isPartial === true
  const never = cause.parts.filter((part) => !part.everHolds)
  const told = isPartial ? cause.parts.filter(wasSeen) : never.length > 0 ? never : cause.parts
  return (
    <Box mb="1">
      <Text>
        The gate of {rowName(story, cause.address)} never holds
        {cause.behind ? ' where it is asked (only when nothing before it matched)' : ''}
        {isPartial ? '. It is asked in too many states to look at each of its parts in all of them' : ''}
        {told.length === 0 ? '.' : isPartial ? '; in some of them it was so:' : ':'}
      </Text>
      <Box as="ul" listStyleType="disc" pl="5">
        {told.map((part) => (
          <li key={part.source}>{isPartial ? sayInSome(story, part) : sayPart(story, part, never.length === 0)}</li>
        ))}
      </Box>
      {cause.remove.length > 0 && cause.remove.length < cause.parts.length && (
        <Text color="faded">
          It would open without{' '}
          {cause.remove.map((at) => `“${sayExpression(story, cause.parts[at]!.source)}”`).join(' and ')}.
        </Text>
      )}
    </Box>
  )
}

function wasSeen({ everHolds, saw }: GatePart): boolean {
  return everHolds || saw.some(({ values }) => values.length > 0)
}

function sayInSome(story: Story, part: GatePart): string {
  return `“${sayExpression(story, part.source)}” ${part.everHolds ? 'held at times' : 'did not hold'} (${saySeen(story, part)})`
}

function saySeen(story: Story, { saw }: GatePart): string {
  const names = storyNames(story)
  return saw
    .map(({ of, id, values }) => {
      const name = of === 'quest' ? names.quest(id) : of === 'visits' ? `visits to ${plainId(id)}` : plainId(id)
      const said = values.map((value) => (of === 'quest' ? names.stage(id, String(value)) : sayValue(value)))
      return `${name} is ${said.join(', ')} here`
    })
    .join('; ')
}

function sayPart(story: Story, part: GatePart, together: boolean): string {
  const said = `“${sayExpression(story, part.source)}”`
  const seen = saySeen(story, part)
  if (together) return `${said} holds at times, but not together with the others (${seen})`
  const steps =
    part.stepsOver === undefined ? '' : `; it steps over ${part.stepsOver}: test with “at most” or “at least” instead`
  const set =
    part.setAt.length === 0
      ? ''
      : `; set at ${part.setAt.map(({ address, reached }) => `${rowName(story, address)}${reached ? '' : ', which is on no route'}`).join(' and ')}`
  return `${said}: never (${seen})${steps}${set}`
}

function sayExpression(story: Story, source: string): string {
  const parsed = parseExpression(source)
  return parsed.ok ? sayCondition(parsed.value, storyNames(story)) : source
}
