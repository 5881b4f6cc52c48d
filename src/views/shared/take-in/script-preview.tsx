'use client'

import { Box, Text } from '@chakra-ui/react'
import { nameTyped, newSpeakers, personNamed, type ScriptPart } from '../../../core/story/reshape/script-paste'
import type { Story } from '../../../core/story/types'
import { said } from '../said'

/** So many parts are shown; a long script is not read here. */
const SHOWN = 200

/** A script as it is understood, before it goes into a story. */
export function ScriptPreview({ story, parts }: { story: Story; parts: readonly ScriptPart[] }) {
  const made = newSpeakers(story, parts)
  const some = (number: number, one: string) => (number === 0 ? undefined : said(number, one))
  const count = (of: ScriptPart['of']) => parts.filter((part) => part.of === of).length
  return (
    <>
      <Text color="faded" role="status">
        {[
          some(count('line'), 'line'),
          some(count('choice'), 'choice'),
          some(count('scene'), 'new scene'),
          some(count('beat'), 'new beat'),
          made.length === 0 ? undefined : `${said(made.length, 'new speaker')}: ${made.join(', ')}`,
        ]
          .filter((one) => one !== undefined)
          .join(' · ')}
      </Text>
      <Box overflowY="auto" fontFamily="story" tabIndex={0} role="group" aria-label="What goes in" data-preview="">
        {parts.slice(0, SHOWN).map((part, index) => (
          <PartView key={index} story={story} part={part} />
        ))}
        {parts.length > SHOWN && <Text color="faded">and {parts.length - SHOWN} more</Text>}
      </Box>
    </>
  )
}

function PartView({ story, part }: { story: Story; part: ScriptPart }) {
  if (part.of === 'beat')
    return (
      <Text fontWeight={600} mt="3" borderTop="1px solid" borderColor="hairline" pt="1">
        {part.title}
      </Text>
    )
  if (part.of === 'scene')
    return (
      <Text fontSize="lg" fontWeight={600} mt="4">
        {part.title}
      </Text>
    )
  if (part.of === 'note')
    return (
      <Text color="faded" fontFamily="body" fontSize="sm">
        {part.text}
      </Text>
    )
  if (part.of === 'choice')
    return (
      <Text pl="6">
        <Box as="span" color="faded" fontFamily="body" fontSize="sm">
          the player may answer{' '}
        </Box>
        {part.text}
        {part.to !== undefined && (
          <Box as="span" color="faded" fontFamily="body" fontSize="sm">
            {' '}
            → {part.to}
          </Box>
        )}
      </Text>
    )
  const id = part.speaker === undefined ? undefined : personNamed(story, part.speaker)
  const name = part.speaker && (story.cast?.find((person) => person.id === id)?.name ?? nameTyped(part.speaker))
  return (
    <Text whiteSpace="pre-wrap" fontStyle={part.isAction ? 'italic' : undefined}>
      {name !== undefined && (
        <Box as="span" fontFamily="body" fontSize="sm" fontWeight={600}>
          {name}
          {part.isAction ? ' (action)' : ''}:{' '}
        </Box>
      )}
      {part.text}
    </Text>
  )
}
