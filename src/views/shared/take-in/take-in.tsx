'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { formsFor } from '../../../core/formats/forms'
import { appendManuscript } from '../../../core/story/reshape/script-paste'
import { newLine } from '../../../session/new-line'
import { Main, Quiet } from '../../../ui/buttons'
import { Dialog } from '../../../ui/dialog'
import { PickFile } from '../../../ui/pick-file'
import { useSession, useSessionState } from '../session/use-session'
import { ScriptPreview } from './script-preview'
import { MANUSCRIPT_FILES, useManuscript } from './use-manuscript'

/** Takes a text that was written elsewhere into the story, as scenes behind the last. */
export function TakeIn() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const { incoming, read, drop } = useManuscript()
  const [done, setDone] = useState<string>()
  const take = () => {
    if (incoming?.kind !== 'read') return
    const title = incoming.read.title ?? incoming.name.replace(/\.\w+$/, '')
    const made = appendManuscript(session.getState().story, incoming.read.parts, title, newLine)
    const trouble = session.edit(made.change)
    drop()
    if (trouble !== undefined) return session.tell(trouble)
    setDone(`“${incoming.name}” is in, behind the last scene. Undo takes it out again.`)
    session.goTo(made.first)
  }
  return (
    <>
      <PickFile label="A text to take in" accept={MANUSCRIPT_FILES} onPick={([file]) => read(file!)}>
        Choose a file …
      </PickFile>
      <Box role="status" color={incoming?.kind === 'trouble' ? 'needle' : 'faded'} fontSize="sm" mt="2">
        {incoming?.kind === 'reading' && `Reading “${incoming.name}” …`}
        {incoming?.kind === 'trouble' && `“${incoming.name}” could not be read: ${incoming.why}.`}
        {incoming === undefined && done}
      </Box>
      <Box as="ul" fontSize="sm" color="faded" mt="2" listStyleType="none">
        {formsFor('manuscript').map(({ id, name, manuscript }) => (
          <li key={id}>
            {name}: {manuscript.says}
          </li>
        ))}
      </Box>
      {incoming?.kind === 'read' && (
        <Dialog title={`“${incoming.name}” is understood so`} onClose={drop} wide>
          <Text color="faded">It goes in as scenes behind the last, in one step that can be undone.</Text>
          <ScriptPreview story={story} parts={incoming.read.parts} />
          <Flex gap="3" align="center">
            <Main data-first="" onClick={take}>
              Take it in
            </Main>
            <Quiet onClick={drop}>Leave it</Quiet>
          </Flex>
        </Dialog>
      )}
    </>
  )
}
