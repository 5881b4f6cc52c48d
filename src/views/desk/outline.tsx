'use client'

import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useMemo, useRef, useState } from 'react'
import { isGroup, type Beat, type Story } from '../../core/story/types'
import { plainId } from '../../session/names'
import { Quiet } from '../../ui/buttons'
import { VerdictMark } from '../../ui/marks'
import { useSession, useSessionState } from '../shared/use-session'
import { useVerdict } from '../shared/verdicts'
import { addBeat, addScene } from './structure'

type Row =
  | { readonly kind: 'scene'; readonly id: string; readonly title: string; readonly open: boolean }
  | { readonly kind: 'beat'; readonly address: string; readonly id: string; readonly ending: boolean; readonly place: boolean }

const ROW_PX = 25
/** A story of more beats shows only the scene one is in unfolded. */
const UNFOLDED_MAX = 300

/** Scenes and their beats, each with its mark; a search over names and text. */
export function Outline() {
  const session = useSession()
  const story = useSessionState((state) => state.story)
  const scene = useSessionState((state) => state.scene)
  const beat = useSessionState((state) => state.beat)
  const [search, setSearch] = useState('')
  const [folded, setFolded] = useState<ReadonlySet<string>>()
  const large = useMemo(() => story.scenes.reduce((sum, one) => sum + one.beats.length, 0) > UNFOLDED_MAX, [story.scenes])
  const rows = useMemo(() => rowsOf(story, search, (id) => (folded?.has(id) ?? false) || (large && folded === undefined && id !== scene)), [story, search, folded, large, scene])
  const box = useRef<HTMLDivElement>(null)
  // eslint-disable-next-line react-hooks/incompatible-library -- its answers are used here only, never handed on
  const list = useVirtualizer({ count: rows.length, getScrollElement: () => box.current, estimateSize: () => ROW_PX, overscan: 12 })

  const at = rows.findIndex((row) => row.kind === 'beat' && row.address === beat)
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: 'auto' })
    // only when one goes elsewhere, not at every edit
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [beat])

  const fold = (id: string) => {
    const next = new Set(folded ?? (large ? story.scenes.filter((one) => one.id !== scene).map((one) => one.id) : []))
    if (next.has(id)) next.delete(id)
    else next.add(id)
    setFolded(next)
  }
  return (
    <Flex as="nav" aria-label="Outline" direction="column" borderRight="1px solid" borderColor="hairline" minH="0">
      <Box p="2">
        <Input aria-label="Search the story" placeholder="Search" value={search} onChange={(event) => setSearch(event.target.value)} h="1.8rem" px="2" bg="sheet" borderColor="edge" borderRadius="sheet" fontSize="sm" _placeholder={{ color: 'faded' }} />
      </Box>
      <Box ref={box} flex="1" minH="0" overflowY="auto" px="1" tabIndex={-1}>
        <Box position="relative" height={`${list.getTotalSize()}px`}>
          {list.getVirtualItems().map((item) => {
            const row = rows[item.index]!
            return (
              <Box key={item.key} position="absolute" top="0" left="0" right="0" height={`${ROW_PX}px`} style={{ transform: `translateY(${item.start}px)` }}>
                {row.kind === 'scene' ? (
                  <Quiet w="100%" fontWeight={600} color="ink" overflow="hidden" textOverflow="ellipsis" aria-expanded={row.open} onClick={() => fold(row.id)}>
                    {row.open ? '–' : '+'} {row.title}
                  </Quiet>
                ) : (
                  <BeatRow row={row} current={row.address === beat} />
                )}
              </Box>
            )
          })}
        </Box>
        {rows.length === 0 && (
          <Text p="2" color="faded" fontSize="sm">
            {search === '' ? 'No scenes yet.' : 'No beat has that in its name or text.'}
          </Text>
        )}
      </Box>
      <Flex p="2" gap="1" borderTop="1px solid" borderColor="hairline">
        <Quiet
          onClick={() => {
            const target = story.scenes.find((one) => one.id === scene) ?? story.scenes[0]
            if (target !== undefined) addBeat(session, target.id, target.beats.length)
          }}
          disabled={story.scenes.length === 0}
        >
          + beat
        </Quiet>
        <Quiet onClick={() => addScene(session)}>+ scene</Quiet>
      </Flex>
    </Flex>
  )
}

function BeatRow({ row, current }: { row: Row & { kind: 'beat' }; current: boolean }) {
  const session = useSession()
  const verdict = useVerdict(row.address)
  return (
    <Flex asChild align="center" gap="2" w="100%" pl="4" bg={current ? 'wash' : undefined} color={current ? 'ink' : 'faded'} fontFamily="story" fontSize="sm">
      <Quiet
        aria-current={current ? 'true' : undefined}
        onClick={() => {
          session.goTo(row.address)
          document.getElementById(row.address)?.scrollIntoView({ block: 'start' })
        }}
      >
        <VerdictMark verdict={verdict} size={9} />
        <Text as="span" truncate>
          {plainId(row.id)}
        </Text>
        {(row.ending || row.place) && (
          <Text as="span" fontFamily="body" fontSize="xs" color="faded">
            {row.ending ? 'ending' : 'place'}
          </Text>
        )}
      </Quiet>
    </Flex>
  )
}

function rowsOf(story: Story, search: string, isFolded: (scene: string) => boolean): Row[] {
  const wanted = search.trim().toLowerCase()
  return story.scenes.flatMap((scene): Row[] => {
    const found = wanted === '' ? scene.beats : scene.beats.filter((beat) => beatText(scene.title, beat).includes(wanted))
    if (wanted !== '' && found.length === 0) return []
    const open = wanted !== '' || !isFolded(scene.id)
    const beats = open ? found.map((beat): Row => ({ kind: 'beat', address: `${scene.id}.${beat.id}`, id: beat.id, ending: beat.ending !== undefined, place: beat.place === true })) : []
    return [{ kind: 'scene', id: scene.id, title: scene.title, open }, ...beats]
  })
}

const texts = new WeakMap<Beat, string>()

/** All that is read in a beat, in small letters. */
function beatText(scene: string, beat: Beat): string {
  let text = texts.get(beat)
  if (text === undefined) {
    const lines = (beat.lines ?? []).flatMap((line) => (isGroup(line) ? line.firstOf.flatMap((variant) => variant.lines) : [line]))
    const parts = [plainId(beat.id), beat.notes, beat.ask?.prompt, ...lines.flatMap((line) => [line.speaker, line.text]), ...(beat.choices ?? []).map((choice) => choice.text)]
    text = parts.join('\n').toLowerCase()
    texts.set(beat, text)
  }
  return `${scene.toLowerCase()}\n${text}`
}
