'use client'

import { Box, Flex, Grid, Text } from '@chakra-ui/react'
import { useParams } from 'next/navigation'
import { useState, type ReactNode } from 'react'
import { api } from '../../session/api'
import { Plain } from '../../ui/buttons'
import { useMayWrite, useSessionState } from '../shared/session/use-session'
import { SaveLink } from '../shared/save-link'
import { said } from '../shared/said'
import { Charts } from './charts'
import { GameKey } from './game-key'
import { TakeIn } from '../shared/take-in/take-in'
import { ReadingCopies } from './reading-copies'
import { PageForm } from './page-form'

/** Everything by which a story leaves the desk. */
export function ExportView() {
  const { id } = useParams<{ id: string }>()
  const saving = useSessionState((state) => state.saving.kind)
  const drafts = useSessionState((state) => state.drafts)
  const isSaved = saving === 'saved' && drafts === 0
  const mayWrite = useMayWrite()
  const [without, setWithout] = useState(false)
  const left = without ? '?without=unreached' : ''
  return (
    <Box as="main" id="text" tabIndex={-1} h="100%" overflowY="auto" px="6" py="5">
      <Box maxW="60rem" mx="auto">
        <Text as="h2" fontFamily="story" fontSize="xl" mb="1">
          Export
        </Text>
        <Text color="faded" mb="5" role="status">
          {isSaved
            ? 'What is saved is what leaves.'
            : 'The last edits are being saved; what is taken now may lack them.'}
        </Text>
        <Way
          title="A page to play"
          says="One file that anybody opens in a browser: no network, no installation. It reads on a telephone as on a desk, goes on where one was, and takes up old playthroughs when you send a newer version."
        >
          <PageForm />
          <Flex gap="2" wrap="wrap" mt="4">
            <SaveLink href={`${api.storyPath(id)}/page${left}`}>Save the page</SaveLink>
            <Plain asChild>
              <a href={`/story/${id}/play`} target="_blank" rel="noopener">
                Play it here
              </a>
            </Plain>
          </Flex>
        </Way>
        <Way
          title="For a game"
          says="A bundle: the story made ready for engines, read by the runtime for JavaScript, by the ports for Lua and C#, and by whatever you build after its description. Notes stay here."
        >
          <SaveLink href={`${api.storyPath(id)}/bundle${left}`}>Save the bundle</SaveLink>
          <LeaveOut checked={without} onChange={setWithout} />
        </Way>
        <Way
          title="For testers"
          says="The course of the story as a state chart: beats are states, decisions events. Any program for such charts can run it, walk it, or draw it."
        >
          <Charts />
        </Way>
        <Way
          title="To read on paper"
          says="The manuscript with its gates in words, or one way through it played as a screenplay. What is changed in a Markdown copy can be taken in again, under Languages."
        >
          <ReadingCopies />
        </Way>
        {mayWrite && (
          <Way
            title="A text taken in"
            says="What was written elsewhere becomes scenes of this story. You see first how it is understood."
          >
            <TakeIn />
          </Way>
        )}
        <Way
          title="A running game"
          says="A game on the line shows here where it is and what it remembers, and takes up every edit at once. Whoever has the key can join from this machine."
        >
          <GameKey />
        </Way>
        <Way
          title="The story file"
          says="The whole document, with notes, promises and kept routes: for another Paper Compass, for version control, for the command line."
        >
          <SaveLink href={api.exportPath(id)}>Save the story file</SaveLink>
        </Way>
      </Box>
    </Box>
  )
}

function Way({ title, says, children }: { title: string; says: string; children: ReactNode }) {
  return (
    <Grid
      as="section"
      aria-label={title}
      templateColumns={{ base: '1fr', md: '16rem 1fr' }}
      columnGap="8"
      rowGap="3"
      py="5"
      borderTop="1px solid"
      borderColor="hairline"
    >
      <Box>
        <Text as="h3" fontFamily="story" fontSize="lg" mb="1">
          {title}
        </Text>
        <Text color="faded">{says}</Text>
      </Box>
      <Box>{children}</Box>
    </Grid>
  )
}

/** What no route comes to can stay behind; it is named, so that nothing goes missing unseen. */
function LeaveOut({ checked, onChange }: { checked: boolean; onChange: (checked: boolean) => void }) {
  const report = useSessionState((state) => state.survey.report)
  const beats = report?.unreached.beats ?? []
  const choices = report?.unreached.choices ?? []
  const none = report !== undefined && beats.length + choices.length === 0
  return (
    <Box mt="3">
      <label>
        <input type="checkbox" checked={checked} onChange={(event) => onChange(event.target.checked)} /> without what is
        on no route
      </label>
      <Text color="faded" fontSize="sm">
        {report === undefined
          ? 'The survey is going on.'
          : none
            ? 'Everything is on a route: nothing is left out.'
            : `${said(beats.length, 'beat')} and ${said(choices.length, 'choice')} would be left out, of the page too.`}
      </Text>
      {checked && !none && (
        <Box as="ul" aria-label="What is left out" maxH="10rem" overflowY="auto" fontSize="sm" mt="1" ml="4">
          {[...beats, ...choices].map((address) => (
            <li key={address}>{address}</li>
          ))}
        </Box>
      )}
    </Box>
  )
}
