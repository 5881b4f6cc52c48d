'use client'

import { focusSoon } from '../../../ui/named-fields'
import { Box, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useDeferredValue, useEffect, useState } from 'react'
import { inBeat, parseAddress } from '../../../core/base/address'
import { titleScene } from '../../../core/story/reshape/naming'
import type { Beat, Scene } from '../../../core/story/types'
import type { StorySession } from '../../../session/story-session'
import { Main } from '../../../ui/buttons'
import { DraftText } from '../../shared/fields/draft-text'
import { useSession, useSessionState } from '../../shared/session/use-session'
import { BeatView } from './beat-view'
import { manuscriptStyle } from './desk-style'
import { scriptKeys } from './script-keys'
import { addBeat, addScene } from '../outline/structure'

/** A scene of more beats is drawn only where it is seen. */
const WHOLE_MAX = 40
/** So many beats of a scene fill a window; one of them may be a long one. */
const FIRST_BEATS = 6
/** How high a beat is taken to be before it was drawn. */
const BEAT_PX = 240

/** One scene, set like a script and edited in place. */
export function Manuscript() {
  const session = useSession()
  const scene = useSessionState((state) => state.story.scenes.find((one) => one.id === state.scene))
  // as state: what is inside has to hear when the element is there
  const [box, setBox] = useState<HTMLDivElement | null>(null)
  return (
    <Box
      ref={setBox}
      overflowY="auto"
      px={{ base: '2', lg: '6' }}
      py="5"
      minW="0"
      css={{ containerType: 'inline-size' }}
      tabIndex={-1}
      data-manuscript=""
      onKeyDown={(event) => scriptKeys(session, event)}
    >
      <Box
        bg="sheet"
        border="1px solid"
        borderColor="hairline"
        borderRadius="sheet"
        maxW="56rem"
        mx="auto"
        px={{ base: '4', lg: '9' }}
        py="6"
        css={manuscriptStyle}
      >
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
              <DraftText
                label="Title of the scene"
                field={`${scene.id}:title`}
                value={scene.title}
                single
                onCommit={(title) => titled(session, scene.id, title)}
              />
            </Box>
            <Box color="faded" fontStyle="italic" mb="2">
              <DraftText
                label="Note on the scene"
                value={scene.notes ?? ''}
                placeholder="note on the scene"
                onCommit={(notes) =>
                  session.edit({ op: 'set-scene', scene: scene.id, values: { notes: notes === '' ? null : notes } })
                }
              />
            </Box>
            {scene.beats.length > WHOLE_MAX ? (
              <SeenBeats key={scene.id} scene={scene} box={box} />
            ) : (
              <AllBeats key={scene.id} scene={scene} />
            )}
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

/** A title for a scene; one stays in the scene when its id follows. */
function titled(session: StorySession, sceneId: string, title: string): void {
  const { story, beat } = session.getState()
  const scene = story.scenes.find((one) => one.id === sceneId)
  if (scene === undefined) return
  const { change, id } = titleScene(story, scene, title)
  session.edit(change)
  if (id === sceneId) return
  const here = beat === undefined ? undefined : parseAddress(beat)
  session.enter(here?.scene === sceneId ? inBeat(beat!, { scene: id, beat: here.beat }) : id)
  if (document.activeElement === document.body) focusSoon(`${id}:title`)
}

/** Runs each time a view is asked to show a beat of the scene, also the first time. */
function useShown(scene: Scene, show: (index: number) => void): void {
  const session = useSession()
  const shown = useSessionState((state) => state.shown)
  useEffect(() => {
    const { beat } = session.getState()
    const index = scene.beats.findIndex(({ id }) => `${scene.id}.${id}` === beat)
    if (index >= 0) show(index)
    // when it is asked, not at every edit
    // oxlint-disable-next-line react/exhaustive-deps
  }, [session, shown, scene.id])
}

function AllBeats({ scene }: { scene: Scene }) {
  const session = useSession()
  const [first] = useState(() => {
    const { beat } = session.getState()
    const at = scene.beats.findIndex(({ id }) => `${scene.id}.${id}` === beat)
    return Math.max(FIRST_BEATS, at + 2)
  })
  // those that one sees stand there before the others are drawn
  const isWhole = useDeferredValue(true, false)
  useShown(scene, (index) => {
    const section = document.getElementById(`${scene.id}.${scene.beats[index]!.id}`)
    // the first beat is seen best with the scene's title above it
    if (index === 0) section?.closest('[data-manuscript]')?.scrollTo({ top: 0 })
    else section?.scrollIntoView({ block: 'start' })
  })
  const drawn = isWhole ? scene.beats : scene.beats.slice(0, first)
  return drawn.map((beat) => <BeatView key={beat.id} scene={scene.id} beat={beat} />)
}

/** Only the beats that are seen, and some before and after them. */
function SeenBeats({ scene, box }: { scene: Scene; box: HTMLDivElement | null }) {
  const { beats } = scene
  // oxlint-disable-next-line react/incompatible-library -- its answers are used here only, never handed on
  const list = useVirtualizer({
    count: beats.length,
    getScrollElement: () => box,
    estimateSize: () => BEAT_PX,
    overscan: 3,
    getItemKey: (index) => beats[index]?.id ?? index,
    // the page's title stands above them
    scrollMargin: 115,
  })
  useShown(scene, (index) => list.scrollToIndex(index, { align: 'start' }))
  const items = list.getVirtualItems()
  return (
    <div style={{ height: list.getTotalSize(), position: 'relative' }}>
      <div style={{ transform: `translateY(${(items[0]?.start ?? 0) - list.options.scrollMargin}px)` }}>
        {items.map((item) => {
          const beat: Beat | undefined = beats[item.index]
          return beat === undefined ? null : (
            <div key={item.key} data-index={item.index} ref={list.measureElement}>
              <BeatView scene={scene.id} beat={beat} />
            </div>
          )
        })}
      </div>
    </div>
  )
}
