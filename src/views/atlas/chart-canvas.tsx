'use client'

import { Box } from '@chakra-ui/react'
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomBehavior } from 'd3-zoom'
import { useEffect, useImperativeHandle, useLayoutEffect, useMemo, useRef, useState, type Ref } from 'react'
import { bandAt, beatNear, COLUMN } from '../../core/atlas/picture'
import { draw } from './draw'
import { roadNear } from './in-view'
import { paletteOf } from './palette'
import { CanvasPen } from './pen'
import { STRIP, type EdgeTag, type Look, type Sheet } from './sheet'

/** What is drawn, but for how it is looked at. */
export type Parts = Omit<Sheet, 'look' | 'width' | 'height' | 'palette'>

/** What the pointer is on. */
export type Spot =
  | { readonly of: 'beat'; readonly beat: number }
  | { readonly of: 'road'; readonly road: number }
  | { readonly of: 'band'; readonly band: number }
  | { readonly of: 'distance'; readonly column: number }

/** The chart, for those who move it. */
export interface ChartHandle {
  /** Brings a beat into view; `near`: into the middle, so near that its words are read. */
  show(beat: number, near?: boolean): void
  whole(): void
  scale(by: number): void
  look(): Look
  setLook(look: Look): void
  focus(): void
}

interface Props {
  readonly parts: Parts
  readonly label: string
  readonly handle: Ref<ChartHandle>
  /** How it is looked at when it is opened; undefined: all of it. */
  readonly first: Look | undefined
  readonly onLook: () => void
  readonly onSpot: (spot: Spot, event: { readonly altKey: boolean }) => void
  readonly onNothing: () => void
  readonly onKeyDown: (event: React.KeyboardEvent) => void
  readonly tip: (spot: Spot) => React.ReactNode
}

const SCALE_MAX = 3
/** The scale at which one reads what stands at a beat. */
const NEAR = 0.95
/** Around the whole chart, in pixels; beneath it there is room for the key. */
const AROUND = 24
const KEY = 64
/** Left and above the title of a scene one is still on it, in pixels. */
const TITLE_HIGH = 22

interface Beside {
  readonly left?: string
  readonly right?: string
  readonly top?: string
  readonly bottom?: string
}

/** Where what is said of a point stands, so that it is in view and the pointer is not on it. */
function besidePoint(x: number, y: number, { width, height }: { width: number; height: number }): Beside {
  return {
    ...(x > width - 300 ? { right: `${width - x + 10}px` } : { left: `${x + 14}px` }),
    ...(y > height - 130 ? { bottom: `${height - y + 10}px` } : { top: `${y + 14}px` }),
  }
}

/** The chart on a canvas: moved and scaled by wheel, drag and touch; what is picked is told to the view. */
export function ChartCanvas({ parts, label, handle, first, onLook, onSpot, onNothing, onKeyDown, tip }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const look = useRef<Look>({ x: 0, y: STRIP, k: 1 })
  const size = useRef({ width: 0, height: 0 })
  const tags = useRef<readonly EdgeTag[]>([])
  const shown = useRef(parts)
  const frame = useRef(0)
  const behaviour = useRef<ZoomBehavior<HTMLCanvasElement, unknown>>(undefined)
  const told = useRef(onLook)
  const isPlaced = useRef(false)
  /** A beat that was to be shown before there was anything to show it on. */
  const wanted = useRef<{ readonly beat: number; readonly near: boolean }>(undefined)
  /** Somebody has moved or scaled it: it is not fitted by itself any more. */
  const isMoved = useRef(first !== undefined)
  const [spot, setSpot] = useState<{ readonly spot: Spot; readonly beside: Beside }>()

  const sheet = (): Sheet => ({
    ...shown.current,
    look: look.current,
    ...size.current,
    palette: paletteOf(document.documentElement),
  })
  const redraw = () => {
    cancelAnimationFrame(frame.current)
    frame.current = requestAnimationFrame(() => {
      const context = canvas.current?.getContext('2d')
      if (!context || size.current.width === 0) return
      const ratio = window.devicePixelRatio || 1
      context.setTransform(ratio, 0, 0, ratio, 0, 0)
      tags.current = draw(new CanvasPen(context), sheet())
      canvas.current!.dataset.drawn = ''
    })
  }
  useLayoutEffect(() => {
    shown.current = parts
    told.current = onLook
    redraw()
  })

  const setLook = ({ x, y, k }: Look) => {
    if (canvas.current === null || behaviour.current === undefined) return
    behaviour.current.transform(select(canvas.current), zoomIdentity.translate(x, y).scale(k))
  }
  const wholeLook = (): Look => {
    const { width, height } = size.current
    const { picture } = shown.current
    const k = Math.min(
      1.2,
      (width - 2 * AROUND) / Math.max(1, picture.width),
      (height - STRIP - AROUND - KEY) / Math.max(1, picture.height),
    )
    return { x: Math.max(AROUND, (width - picture.width * k) / 2), y: STRIP + AROUND, k }
  }
  // what the survey says first moves nearly everything: the whole is shown again
  const { width: chartWidth, height: chartHeight } = parts.picture
  const bound = () => behaviour.current?.scaleExtent([Math.min(wholeLook().k * 0.6, 0.5), SCALE_MAX])
  useEffect(() => {
    if (size.current.width > 0) bound()
    if (isPlaced.current && !isMoved.current && size.current.width > 0) setLook(wholeLook())
  }, [chartWidth, chartHeight])
  const showBeat = (beat: number, near: boolean) => {
    if (!isPlaced.current) {
      wanted.current = { beat, near }
      return
    }
    const { x, y } = look.current
    const k = near ? NEAR : look.current.k
    const { width, height } = size.current
    const { picture } = shown.current
    const [left, top] = [picture.x[beat]! * k + x, picture.y[beat]! * k + y]
    const isIn = left > 4 && left < width - 60 && top > STRIP + 4 && top < height - 20
    if (isIn && !near) return
    isMoved.current = true
    setLook({ x: x + width / 2 - left, y: y + (height + STRIP) / 2 - top, k })
  }
  useImperativeHandle(handle, () => ({
    show: (beat, near = false) => showBeat(beat, near),
    whole: () => setLook(wholeLook()),
    scale(by) {
      isMoved.current = true
      if (canvas.current === null) return
      // about the picked beat, where that is in view
      const { picked, picture } = shown.current
      const at = look.current
      const [x, y] =
        picked === undefined ? [-1, -1] : [picture.x[picked]! * at.k + at.x, picture.y[picked]! * at.k + at.y]
      const isIn = x > 0 && x < size.current.width && y > STRIP && y < size.current.height
      behaviour.current?.scaleBy(select(canvas.current), by, isIn ? [x, y] : undefined)
    },
    look: () => look.current,
    setLook,
    focus: () => canvas.current?.focus(),
  }))

  useEffect(() => {
    const element = canvas.current!
    // what is left is still told of its size for a moment
    const around = box.current!
    const behave = zoom<HTMLCanvasElement, unknown>()
      // two presses open the text, they do not come nearer
      .filter((event: MouseEvent) => event.button === 0 && event.type !== 'dblclick')
      .on('zoom', (event: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
        const { x, y, k } = event.transform
        look.current = { x, y, k }
        if (event.sourceEvent !== null) isMoved.current = true
        setSpot(undefined)
        redraw()
        told.current()
      })
    behaviour.current = behave
    select(element).call(behave)
    const resize = () => {
      const { width, height } = around.getBoundingClientRect()
      const ratio = window.devicePixelRatio || 1
      size.current = { width, height }
      element.width = Math.round(width * ratio)
      element.height = Math.round(height * ratio)
      if (width === 0) return
      bound()
      if (!isPlaced.current) {
        isPlaced.current = true
        setLook(first ?? wholeLook())
        if (wanted.current !== undefined) showBeat(wanted.current.beat, wanted.current.near)
      }
      redraw()
    }
    const observer = new ResizeObserver(resize)
    observer.observe(around)
    // the theme is a class of the page
    const themes = new MutationObserver(redraw)
    themes.observe(document.documentElement, { attributes: true, attributeFilter: ['class'] })
    void document.fonts.ready.then(redraw)
    return () => {
      observer.disconnect()
      themes.disconnect()
      select(element).on('.zoom', null)
      cancelAnimationFrame(frame.current)
    }
    // set up once: it reads what is current through its references
    // oxlint-disable-next-line react/exhaustive-deps
  }, [])

  /** What stands at a point of the view. */
  const spotAt = (x: number, y: number): Spot | undefined => {
    const { picture } = shown.current
    const at = look.current
    const [left, top] = [(x - at.x) / at.k, (y - at.y) / at.k]
    if (y < STRIP) {
      const column = Math.floor(left / COLUMN)
      return column >= 0 && column < picture.chart.columns ? { of: 'distance', column } : undefined
    }
    const tag = tags.current.find((one) => x >= one.x && x <= one.x + one.width && y >= one.y && y <= one.y + 18)
    if (tag !== undefined) return { of: 'beat', beat: tag.beat }
    const beat = beatNear(picture, left, top)
    if (beat !== undefined) return { of: 'beat', beat }
    const road = roadNear(sheet(), x, y)
    if (road !== undefined) return { of: 'road', road }
    const band = bandAt(picture, top)
    if (band === undefined) return undefined
    const isTitle = y - Math.max(picture.bandTop[band]! * at.k + at.y, STRIP) < TITLE_HIGH
    return isTitle || !picture.open[band] ? { of: 'band', band } : undefined
  }
  const place = (event: React.MouseEvent): readonly [number, number] => {
    const { left, top } = canvas.current!.getBoundingClientRect()
    return [event.clientX - left, event.clientY - top]
  }
  const words = useMemo(() => (spot === undefined ? undefined : tip(spot.spot)), [spot, tip])
  return (
    <Box ref={box} position="relative" overflow="hidden" minH="0" minW="0" data-atlas="">
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-roledescription="chart"
        aria-label={label}
        data-field="atlas:chart"
        style={{
          position: 'absolute',
          inset: 0,
          width: '100%',
          height: '100%',
          cursor: spot === undefined ? 'grab' : 'pointer',
          outlineOffset: '-3px',
        }}
        onKeyDown={onKeyDown}
        onClick={(event) => {
          const [x, y] = place(event)
          const found = spotAt(x, y)
          if (found === undefined) onNothing()
          else onSpot(found, event)
        }}
        onPointerMove={(event) => {
          if (event.buttons !== 0) return
          const [x, y] = place(event)
          const found = spotAt(x, y)
          setSpot(found && { spot: found, beside: besidePoint(x, y, size.current) })
        }}
        onPointerLeave={() => setSpot(undefined)}
      />
      {spot !== undefined && words !== undefined && words !== null && (
        <Box
          position="absolute"
          pointerEvents="none"
          {...spot.beside}
          maxW="18rem"
          bg="sheet"
          border="1px solid"
          borderColor="edge"
          borderRadius="sheet"
          boxShadow="sm"
          px="2.5"
          py="1.5"
          fontSize="sm"
          data-tip=""
        >
          {words}
        </Box>
      )}
    </Box>
  )
}
