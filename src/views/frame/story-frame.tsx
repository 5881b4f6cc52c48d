'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useParams, usePathname } from 'next/navigation'
import { useEffect, useState, type DragEvent, type ReactNode } from 'react'
import type { Since } from '../../core/contract/comments'
import type { Story } from '../../core/story/types'
import { openStory } from '../../session/first-opening'
import { keepRehearsal } from '../../session/kept-rehearsal'
import { StorySession } from '../../session/story-session'
import { prepareSurvey } from '../../session/survey-handle'
import { Plain } from '../../ui/buttons'
import { FailureBoundary } from '../shared/failure-boundary'
import { FollowedGame } from '../live/followed-game'
import { GamesStrip } from '../live/games-strip'
import { LiveProvider } from '../live/live-context'
import { CommentsProvider } from '../shared/comments/comments-context'
import { ThingsProvider } from '../shared/naming/things'
import { focusRow } from '../shared/session/focus-row'
import { MayWriteProvider, SessionContext } from '../shared/session/use-session'
import { useSelf } from '../members/self'
import { NeedleBar } from './needle-bar'
import { Notice } from './notice'
import type { Overlay } from './commands'
import { SinceStrip } from './since-strip'
import { ShortcutKeys } from './shortcut-keys'
import { TopBar } from './top-bar'
import { Tour } from './tour'

/** A story of one beat that says nothing yet. */
function isUnwritten({ scenes }: Story): boolean {
  const beats = scenes.flatMap((scene) => scene.beats)
  return beats.length === 1 && (beats[0]!.lines ?? []).every((line) => 'text' in line && line.text === '')
}

/** Past the bar: on the Desk to the beat one is at, so that the next stop is its first line; elsewhere to the page. */
function SkipLink() {
  return (
    <a
      className="skip"
      href="#text"
      onClick={(event) => {
        event.preventDefault()
        const beat = document.querySelector('[data-manuscript] .beat[data-current=true], [data-manuscript] .beat')
        const target =
          beat?.querySelector<HTMLElement>('.beat-name .draft') ?? document.querySelector<HTMLElement>('main')
        target?.focus()
      }}
    >
      To the text
    </a>
  )
}

/** Records of playtests are taken wherever they are dropped; what else is dropped is not this one's. */
function takesRecords(session: StorySession) {
  const filesOf = (event: DragEvent) => [...event.dataTransfer.files].filter(({ name }) => name.endsWith('.json'))
  return {
    onDragOver: (event: DragEvent) => {
      if (event.dataTransfer.types.includes('Files')) event.preventDefault()
    },
    onDrop: (event: DragEvent) => {
      const files = filesOf(event)
      if (files.length === 0) return
      event.preventDefault()
      void session.playtests.add(files)
    },
  }
}

type Opening =
  | { readonly kind: 'opening' }
  | { readonly kind: 'failed'; readonly message: string }
  | { readonly kind: 'open'; readonly session: StorySession; readonly sample: boolean; readonly since: Since | null }

/** Opens a story, and stands round every view of it: the bar above, the needle below. */
export function StoryFrame({ children }: { children: ReactNode }) {
  const { id } = useParams<{ id: string }>()
  const self = useSelf()?.id
  const path = usePathname()
  const [opening, setOpening] = useState<Opening>({ kind: 'opening' })
  const [attempt, setAttempt] = useState(0)
  const [overlay, setOverlay] = useState<Overlay>()
  useEffect(() => {
    let session: StorySession | undefined
    let left = false
    prepareSurvey()
    void openStory(id).then((opened) => {
      if (left) return
      if (!opened.ok) {
        setOpening({ kind: 'failed', message: opened.error.message })
        return
      }
      session = new StorySession(id, opened.value, self)
      session.goTo(window.location.hash.slice(1) || undefined)
      keepRehearsal(session)
      setOpening({ kind: 'open', session, sample: opened.value.sample, since: opened.value.since })
      // whoever has just made a story wants to write its first line
      if (opened.value.revision === 0 && isUnwritten(opened.value.story))
        focusRow(opened.value.story.start, undefined, true)
    })
    return () => {
      left = true
      session?.close()
    }
  }, [id, attempt, self])

  const open = opening.kind === 'open' ? opening.session : undefined
  useEffect(() => {
    if (open === undefined) return
    // the browser shows the story first
    let timer: ReturnType<typeof setTimeout> | undefined
    const frame = requestAnimationFrame(() => (timer = setTimeout(() => open.recall())))
    return () => {
      cancelAnimationFrame(frame)
      clearTimeout(timer)
    }
  }, [open])
  useEffect(() => {
    const turn = () => open?.goTo(window.location.hash.slice(1) || undefined)
    window.addEventListener('hashchange', turn)
    return () => window.removeEventListener('hashchange', turn)
  }, [open])

  if (opening.kind === 'opening') {
    return (
      <Text p="8" color="faded" role="status">
        Opening the story …
      </Text>
    )
  }
  if (opening.kind === 'failed') {
    return (
      <Box p="8" role="alert">
        <Text mb="3">The story could not be opened. {opening.message}</Text>
        <Plain onClick={() => setAttempt((count) => count + 1)}>Try again</Plain>
      </Box>
    )
  }
  return (
    <SessionContext.Provider value={opening.session}>
      <MayWriteProvider>
        <ThingsProvider>
          <CommentsProvider>
            <SkipLink />
            <LiveProvider story={id}>
              <Box
                display="grid"
                gridTemplateRows="auto minmax(0, 1fr) auto auto"
                h="100vh"
                overflow="hidden"
                {...takesRecords(opening.session)}
              >
                <TopBar id={id} onFind={() => setOverlay('palette')} onHelp={() => setOverlay('keys')} />
                <Flex minH="0" overflow="hidden">
                  <Box flex="1" minW="0" minH="0" overflow="hidden" position="relative">
                    <FailureBoundary key={path} what="This view">
                      {children}
                    </FailureBoundary>
                    <Notice />
                    {opening.since !== null && <SinceStrip since={opening.since} id={id} />}
                    {opening.sample && opening.session.mayWrite && <Tour />}
                  </Box>
                  <FollowedGame />
                </Flex>
                <Box>
                  <GamesStrip />
                </Box>
                <NeedleBar id={id} />
              </Box>
            </LiveProvider>
            <ShortcutKeys id={id} open={overlay} onOpen={setOverlay} />
          </CommentsProvider>
        </ThingsProvider>
      </MayWriteProvider>
    </SessionContext.Provider>
  )
}
