'use client'

import { Box, Flex } from '@chakra-ui/react'
import { BeatField } from '../shared/fields/beat-field'
import { DraftText } from '../shared/fields/draft-text'
import { useSession, useSessionState } from '../shared/session/use-session'
import { Section } from './section'

/** The story as a whole: its language, where it begins, what is noted about it and about its scenes. */
export function StoryFacts() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  return (
    <Section title="The story" hint="Its language decides how numbers choose their words; it begins at its first beat.">
      <Flex gap="5" wrap="wrap" align="baseline">
        <label>
          language{' '}
          <Box as="span" display="inline-block" w="6rem" className="field" verticalAlign="baseline">
            <DraftText
              label="Language of the story (a BCP 47 tag)"
              value={story.language}
              single
              onCommit={(text) =>
                isLanguage(text.trim()) && session.edit({ op: 'set-story', values: { language: text.trim() } })
              }
            />
          </Box>
        </label>
        <Flex gap="2" align="baseline" whiteSpace="nowrap">
          begins at{' '}
          <BeatField
            label="The first beat"
            value={story.start}
            onChange={(start) => session.edit({ op: 'set-story', values: { start } })}
          />
        </Flex>
      </Flex>
      <Box color="faded" mt="2">
        <DraftText
          label="Note on the story"
          placeholder="note on the story"
          value={story.notes ?? ''}
          onCommit={(notes) => session.edit({ op: 'set-story', values: { notes: notes === '' ? null : notes } })}
        />
      </Box>
    </Section>
  )
}

function isLanguage(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1
  } catch {
    return false
  }
}
