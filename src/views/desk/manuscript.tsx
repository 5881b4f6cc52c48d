'use client'

import { Box, Text } from '@chakra-ui/react'
import { useEffect } from 'react'
import { Main } from '../../ui/buttons'
import { DraftText } from '../shared/draft-text'
import { useSession, useSessionState } from '../shared/use-session'
import { BeatView } from './beat-view'
import { manuscriptStyle } from './desk-style'
import { addBeat, addScene } from './structure'

/** One scene, set like a script and edited in place. */
export function Manuscript() {
  const session = useSession()
  const id = useSessionState((state) => state.scene)
  const scene = useSessionState((state) => state.story.scenes.find((one) => one.id === state.scene))

  useEffect(() => {
    const { beat } = session.getState()
    const first = session.getState().story.scenes.find((one) => one.id === id)?.beats[0]
    // the first beat is seen best with the scene's title above it
    if (beat !== undefined && beat !== `${id}.${first?.id}`) document.getElementById(beat)?.scrollIntoView({ block: 'start' })
    // when another scene is opened
  }, [session, id])

  return (
    <Box overflowY="auto" px="6" py="5" minW="0" tabIndex={-1}>
      <Box bg="sheet" border="1px solid" borderColor="hairline" borderRadius="sheet" maxW="56rem" mx="auto" px="9" py="6" css={manuscriptStyle}>
        {scene === undefined ? (
          <Box py="8">
            <Text fontFamily="story" fontSize="lg">
              This story has no scenes yet.
            </Text>
            <Text color="faded" mt="1" mb="4">
              A scene is a place or an hour; its beats are the moments that happen there.
            </Text>
            <Main onClick={() => addScene(session)}>Begin with a scene</Main>
          </Box>
        ) : (
          <>
            <Box as="h2" fontFamily="story" fontSize="2xl" fontWeight={500} mb="2">
              <DraftText label="Title of the scene" field={`${scene.id}:title`} value={scene.title} single onCommit={(title) => session.edit({ op: 'set-scene', scene: scene.id, values: { title } })} />
            </Box>
            {scene.beats.map((beat) => (
              <BeatView key={beat.id} scene={scene.id} beat={beat} />
            ))}
            {scene.beats.length === 0 && (
              <Box py="6">
                <Text color="faded" mb="3">
                  A beat is one moment: what happens and is said, then what the player may do.
                </Text>
                <Main onClick={() => addBeat(session, scene.id, 0)}>Write its first beat</Main>
              </Box>
            )}
          </>
        )}
      </Box>
    </Box>
  )
}
