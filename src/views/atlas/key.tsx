'use client'

import { Box, Flex, Text } from '@chakra-ui/react'
import { useState, useSyncExternalStore } from 'react'
import { Quiet } from '../../ui/buttons'
import { said } from '../shared/said'
import { drawMark, drawSign } from './marks'
import { paletteOf } from './palette'
import { SvgPen, type Pen } from './pen'
import type { Legend, Overlay, Palette } from './sheet'

interface Props {
  readonly overlay: Overlay | undefined
  readonly found: number | undefined
  readonly isByRoads: boolean
}

/** What one sees, in a sentence, and what the marks mean. */
export function Key({ overlay, found, isByRoads }: Props) {
  const [isOpen, setOpen] = useState(false)
  const palette = usePalette()
  const says = [
    isByRoads ? 'The survey is not done yet: beats stand where roads alone would put them.' : undefined,
    overlay?.says,
    found === undefined ? undefined : `${said(found, 'beat')} lit up.`,
  ].filter((one) => one !== undefined)
  return (
    <Box
      position="absolute"
      left="2"
      bottom="2"
      maxW="min(30rem, calc(100% - 1rem))"
      bg="ground"
      border="1px solid"
      borderColor="hairline"
      borderRadius="sheet"
      px="2.5"
      py="1.5"
      fontSize="sm"
      data-key=""
    >
      {says.length > 0 && <Text data-says="">{says.join(' ')}</Text>}
      {overlay !== undefined && overlay.legend.length > 0 && (
        <Flex gap="3" rowGap="0" wrap="wrap" color="faded">
          {overlay.legend.map((one) => (
            <Flex as="span" key={one.words} align="center" gap="1">
              <Picture paint={(pen) => paintLegend(pen, one, palette)} />
              {one.words}
            </Flex>
          ))}
        </Flex>
      )}
      {isOpen && (
        <Flex direction="column" color="faded" mt="1">
          {SIGNS.map(({ words, paint }) => (
            <Flex key={words} align="center" gap="2">
              <Picture wide paint={(pen) => paint(pen, palette)} />
              {words}
            </Flex>
          ))}
          <Text mt="1">
            Across: decisions from the start. Right follows a road, left goes back, ↑ ↓ choose a road, Enter opens the
            text, Alt+Enter rehearses from there, + − 0 scale, o opens or closes a band.
          </Text>
        </Flex>
      )}
      <Quiet px="0" fontSize="xs" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {isOpen ? 'Close the key' : 'What the marks mean'}
      </Quiet>
    </Box>
  )
}

const line = (pen: Pen, stroke: string, more: { width?: number; dash?: readonly number[] } = {}) =>
  pen.path(
    (sink) => {
      sink.moveTo(2, 10)
      sink.lineTo(42, 10)
    },
    { stroke, width: 1.3, ...more },
  )

const beat = (pen: Pen, palette: Palette, more: Partial<Parameters<typeof drawMark>[1]>) =>
  drawMark(pen, {
    x: 22,
    y: 10,
    size: 4,
    palette,
    verdict: 'reached',
    isStart: false,
    isEnding: false,
    isPlace: false,
    isByRoads: false,
    isPicked: false,
    isOnRoute: false,
    isLit: true,
    ...more,
  })

const SIGNS: readonly { readonly words: string; readonly paint: (pen: Pen, palette: Palette) => void }[] = [
  { words: 'a beat that is reached', paint: (pen, palette) => beat(pen, palette, {}) },
  {
    words: 'on no route: it stands in the margin of its band',
    paint: (pen, palette) => beat(pen, palette, { verdict: 'unreached' }),
  },
  {
    words: 'not decided: its distance is by roads alone',
    paint: (pen, palette) => beat(pen, palette, { verdict: 'undecided' }),
  },
  { words: 'where the story begins', paint: (pen, palette) => beat(pen, palette, { isStart: true }) },
  { words: 'an ending', paint: (pen, palette) => beat(pen, palette, { isEnding: true }) },
  { words: 'players return here', paint: (pen, palette) => beat(pen, palette, { isPlace: true }) },
  { words: 'a choice', paint: (pen, palette) => line(pen, palette.faded) },
  {
    words: 'an encounter',
    paint: (pen, palette) => {
      line(pen, palette.faded)
      pen.path(
        (sink) => {
          sink.moveTo(18, 6)
          sink.lineTo(22, 10)
          sink.lineTo(18, 14)
          sink.lineTo(14, 10)
          sink.closePath()
        },
        { fill: palette.sheet, stroke: palette.ink },
      )
    },
  },
  { words: 'sent elsewhere on arrival', paint: (pen, palette) => line(pen, palette.faded, { dash: [7, 4] }) },
  { words: 'goes on by itself', paint: (pen, palette) => line(pen, palette.faded, { dash: [1.5, 3], width: 1.8 }) },
  {
    words: 'returns to where the player came from',
    paint: (pen, palette) => {
      line(pen, palette.faded, { dash: [2, 2] })
      pen.path((sink) => sink.arc(14, 10, 4, Math.PI * 0.5, Math.PI * 1.9), { stroke: palette.ink, width: 1.3 })
    },
  },
  {
    words: 'no route takes it',
    paint: (pen, palette) => {
      line(pen, palette.needle)
      pen.path((sink) => sink.arc(22, 10, 6, 0, 2 * Math.PI), { fill: palette.ground })
      pen.path(
        (sink) => {
          sink.moveTo(18, 6)
          sink.lineTo(26, 14)
          sink.moveTo(26, 6)
          sink.lineTo(18, 14)
        },
        { stroke: palette.needle, width: 1.4 },
      )
    },
  },
  {
    words: 'a shortest route to the picked beat, or the route that is shown',
    paint: (pen, palette) => line(pen, palette.needle, { width: 2.6 }),
  },
  {
    words: 'above: beats at each distance',
    paint: (pen, palette) => pen.path((sink) => sink.rect(14, 4, 16, 12), { fill: palette.edge, alpha: 0.6 }),
  },
  {
    words: 'above: simulated players who get so far',
    paint: (pen, palette) => line(pen, palette.kept, { width: 1.8 }),
  },
  {
    words: 'above: endings still possible',
    paint: (pen, palette) => line(pen, palette.needle, { width: 1.8, dash: [5, 3] }),
  },
]

function paintLegend(pen: Pen, { shape }: Legend, palette: Palette): void {
  if (shape === 'line') return line(pen, palette.kept, { width: 4 })
  beat(pen, palette, { x: 12, y: shape === 'wedge' ? 6 : 10, size: 2.5 })
  drawSign(pen, { shape, size: 0.4 }, 12, shape === 'wedge' ? 4 : 10, 7, palette)
}

/** A small picture, drawn as the chart is. */
function Picture({ paint, wide = false }: { paint: (pen: Pen) => void; wide?: boolean }) {
  const pen = new SvgPen()
  paint(pen)
  const width = wide ? 44 : 24
  const source = `data:image/svg+xml,${encodeURIComponent(pen.document(width, 20, ''))}`
  // oxlint-disable-next-line nextjs/no-img-element -- drawn here, nothing is loaded
  return <img src={source} alt="" width={width} height={20} style={{ flexShrink: 0 }} />
}

/** The theme's colours, also when it is changed. */
function usePalette(): Palette {
  const theme = useSyncExternalStore(
    (changed) => {
      const observer = new MutationObserver(changed)
      observer.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] })
      return () => observer.disconnect()
    },
    () => document.documentElement.className,
    () => '',
  )
  const [known, setKnown] = useState(() => ({ theme, palette: paletteOf(document.documentElement) }))
  if (known.theme !== theme) setKnown({ theme, palette: paletteOf(document.documentElement) })
  return known.palette
}
