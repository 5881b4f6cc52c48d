'use client'

import { Box, Flex, Heading, Text } from '@chakra-ui/react'
import { sayCondition } from '../../core/expression/words'
import { cachedExpression } from '../../core/story/link-parts'
import { choiceAt } from '../../core/story/beat-at'
import type { Story } from '../../core/story/types'
import type { CallSheet, Column } from '../../core/survey/questions/quests/call-sheet'
import { sayAddress, storyNames } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { LevelMark } from '../../ui/marks'
import { useGoTo } from '../shared/session/use-go-to'
import { useSessionState } from '../shared/session/use-session'
import { useWalk } from '../shared/session/use-walk'

/** Who and what can be approached at which place, under which gate, at which stages; and who is at two places, or at none. */
export function Places({ sheet, title }: { sheet: CallSheet; title: (column: Column) => string }) {
  const story = useSessionState((state) => state.story)
  const goTo = useGoTo()
  const walk = useWalk()
  const places = [...new Set(sheet.presences.map(({ place }) => place))]
  const nameOf = (person: string) => story.cast?.find(({ id }) => id === person)?.name ?? person
  const stages = (columns: readonly number[]) =>
    columns.map((column) => `“${title(sheet.columns[column]!)}”`).join(', ')
  const all = sheet.reached.filter((yes) => yes).length
  return (
    <Box as="section" mt="6" aria-label="Places">
      <Heading as="h2" fontFamily="story" fontSize="lg" fontWeight={500} mb="1">
        Places
      </Heading>
      {sheet.twoPlaces.map(({ person, places: two, route }) => (
        <Flex key={`${person} ${two.join(' ')}`} gap="2" align="baseline" py="1" data-two-places={person}>
          <LevelMark level="warning" />
          <Text flex="1">
            {nameOf(person)} could be approached both at {two.map((place) => sayAddress(place, story)).join(' and at ')}{' '}
            in one and the same state.
          </Text>
          <Quiet color="needle" aria-label={`Walk it: ${person} at two places`} onClick={() => walk(route)}>
            walk it
          </Quiet>
        </Flex>
      ))}
      {sheet.nowhere.map(({ person, column, route }) => (
        <Flex key={`${person} ${column}`} gap="2" align="baseline" py="1" data-nowhere={person}>
          <LevelMark level="warning" />
          <Text flex="1">
            The quest needs {nameOf(person)} at “{title(sheet.columns[column]!)}”, but there they can sometimes be
            approached nowhere.
          </Text>
          <Quiet color="needle" aria-label={`Walk it: ${person} nowhere`} onClick={() => walk(route)}>
            walk it
          </Quiet>
        </Flex>
      ))}
      {places.length === 0 && <Text color="faded">At no place can anybody be approached yet.</Text>}
      {places.map((place) => (
        <Box key={place} py="1" borderBottom="1px solid" borderColor="hairline" data-place={place}>
          <Quiet px="0" color="ink" fontFamily="story" onClick={() => goTo(place)}>
            {sayAddress(place, story)}
          </Quiet>
          {sheet.presences
            .filter((one) => one.place === place)
            .map(({ encounter, person, always, sometimes }) => (
              <Flex key={encounter} gap="3" pl="4" align="baseline">
                <Text w="10rem" flexShrink={0} fontWeight={600}>
                  {nameOf(person)}
                </Text>
                <Text color="faded" flex="1">
                  {sayGate(story, encounter)}
                  {always.length === all
                    ? 'always'
                    : [
                        always.length > 0 && `at ${stages(always)}`,
                        sometimes.length > 0 && `sometimes at ${stages(sometimes)}`,
                      ]
                        .filter(Boolean)
                        .join(', ')}
                </Text>
              </Flex>
            ))}
        </Box>
      ))}
    </Box>
  )
}

function sayGate(story: Story, encounter: string): string {
  const choice = choiceAt(story, encounter)
  if (choice?.when === undefined) return ''
  const parsed = cachedExpression(choice.when)
  return `opens when ${parsed.ok ? sayCondition(parsed.value, storyNames(story)) : choice.when} · `
}
