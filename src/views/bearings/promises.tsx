'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { parseExpression } from '../../core/expression/parse'
import { sayCondition } from '../../core/expression/words'
import type { SurveyResult } from '../../core/survey/result'
import type { Story, StoryPromise } from '../../core/story/types'
import { plainId, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { useSessionState } from '../shared/use-session'
import { useWalk } from '../shared/use-walk'

/** What the designer swears about the story, in sentences, each kept or broken. */
export function Promises({ result }: { result: SurveyResult }) {
  const story = useSessionState((state) => state.story)
  const walk = useWalk()
  const promises = story.promises ?? []
  if (promises.length === 0) return null
  return (
    <Box as="section" mt="8">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="2">
        Promises
      </Heading>
      {promises.map((promise) => {
        const verdict = result.promises[promise.id]
        return (
          <Flex key={promise.id} align="baseline" gap="2.5" py="1" borderBottom="1px solid" borderColor="hairline" data-promise={promise.id}>
            <VerdictMark verdict={verdict === undefined || verdict.verdict === 'undecided' ? 'undecided' : verdict.verdict === 'kept' ? 'reached' : 'unreached'} />
            <Box flex="1" minW="0">
              <Text fontFamily="story">{sayPromise(story, promise)}</Text>
              <Text color="faded" fontSize="sm">
                {plainId(promise.id)}
              </Text>
            </Box>
            <Text color={verdict?.verdict === 'kept' ? 'kept' : verdict?.verdict === 'broken' ? 'needle' : 'ochre'}>{verdict?.verdict ?? 'not understood'}</Text>
            {verdict?.route !== undefined && verdict.route.length > 0 && (
              <Quiet color="needle" onClick={() => walk(verdict.route!)}>
                walk it
              </Quiet>
            )}
          </Flex>
        )
      })}
    </Box>
  )
}

/** A promise as a sentence. */
function sayPromise(story: Story, promise: StoryPromise): string {
  const names = storyNames(story)
  const say = (source: string) => {
    const parsed = parseExpression(source)
    return parsed.ok ? sayCondition(parsed.value, names) : source
  }
  switch (promise.kind) {
    case 'never':
      return `Never: ${say(promise.holds)}.`
    case 'always':
      return `Always: ${say(promise.holds)}.`
    case 'possible':
      return `Possible: ${say(promise.holds)}.`
    case 'stillPossible':
      return promise.while === undefined ? `From everywhere, it can still come that ${say(promise.holds)}.` : `While ${say(promise.while)}, it can still come that ${say(promise.holds)}.`
    case 'inOrder':
      return `First ${say(promise.first)}, and only then ${say(promise.then)}.`
  }
}
