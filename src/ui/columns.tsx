'use client'

import { Box } from '@chakra-ui/react'
import {
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from 'react'
import { Bare } from './bare'
import { bindKeys } from './key-bindings'

export interface SideColumn {
  /** "the outline": what the buttons that open and close it call it. */
  readonly name: string
  /** In rem, until it is made wider or narrower. */
  readonly width: number
  /** With less room than this it begins closed, in rem. */
  readonly openFrom: number
  readonly content: ReactNode
}

interface Props {
  /** What is remembered of the columns is kept under this name. */
  readonly name: string
  readonly as?: 'main' | 'section'
  readonly label?: string
  readonly start?: SideColumn
  readonly end?: SideColumn
  readonly children: ReactNode
}

type Side = 'start' | 'end'

/** What somebody has made of a column; what they have not touched is as the room suggests. */
interface Kept {
  readonly open?: boolean
  readonly width?: number
}

/** With less room than this, in rem, an open column lies over the page. */
const BESIDE_MIN = 44
const WIDTH_MIN = 9
const WIDTH_MAX = 36
/** One press of a key, in rem. */
const STEP = 1
const KEYS: Readonly<Record<Side, string>> = { start: 'Alt+Shift+KeyL', end: 'Alt+Shift+KeyR' }
export const COLUMN_KEYS: Readonly<Record<Side, string>> = { start: 'Alt+Shift+L', end: 'Alt+Shift+R' }

function rem(): number {
  return Number.parseFloat(getComputedStyle(document.documentElement).fontSize) || 16
}

/**
 * A page with columns beside it, which are opened, closed and made narrower by mouse and by key. With little room they
 * begin closed, and lie over the page while they are open.
 */
export function Columns({ name, as = 'main', label, start, end, children }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const [room, setRoom] = useState<number>()
  const [kept, setKept] = useState<Readonly<Record<Side, Kept>>>(() => read(name))
  useLayoutEffect(() => {
    const measure = () => setRoom((box.current?.clientWidth ?? 0) / rem())
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(box.current!)
    return () => observer.disconnect()
  }, [])
  const isNarrow = room !== undefined && room < BESIDE_MIN
  // over the page, a column is open only as long as one is at it
  const [over, setOver] = useState<Side>()
  const isOpen = (side: Side, column: SideColumn): boolean =>
    isNarrow ? over === side : (kept[side].open ?? (room ?? 0) >= column.openFrom)
  const keep = (side: Side, next: Kept) => {
    const changed = { ...kept, [side]: { ...kept[side], ...next } }
    localStorage.setItem(keyOf(name), JSON.stringify(changed))
    setKept(changed)
  }
  const toggle = (side: Side) => {
    const column = side === 'start' ? start : end
    if (column === undefined) return
    if (isNarrow) setOver(over === side ? undefined : side)
    else keep(side, { open: !isOpen(side, column) })
  }
  useEffect(() =>
    bindKeys({
      [KEYS.start]: (event) => {
        event.preventDefault()
        toggle('start')
      },
      [KEYS.end]: (event) => {
        event.preventDefault()
        toggle('end')
      },
    }),
  )
  const edge = (side: Side, column: SideColumn) => (
    <Edge
      side={side}
      column={column}
      isOpen={isOpen(side, column)}
      width={widthOf(kept[side], column)}
      onToggle={() => toggle(side)}
      onWidth={isNarrow ? undefined : (width) => setKept((now) => ({ ...now, [side]: { ...now[side], width } }))}
      onKeep={(width) => keep(side, { width })}
    />
  )
  const beside = (side: Side, column: SideColumn | undefined) =>
    column === undefined
      ? ''
      : isNarrow || !isOpen(side, column)
        ? '1.5rem'
        : side === 'start'
          ? `${widthOf(kept.start, column)}rem 1.5rem`
          : `1.5rem ${widthOf(kept.end, column)}rem`
  const content = (side: Side, column: SideColumn) =>
    isOpen(side, column) && (
      <Box
        display="grid"
        minW="0"
        minH="0"
        data-column={side}
        {...(isNarrow
          ? {
              position: 'absolute',
              zIndex: 'sticky',
              insetBlock: 0,
              ...(side === 'start' ? { left: '1.5rem' } : { right: '1.5rem' }),
              w: `min(${column.width + 2}rem, calc(100% - 3rem))`,
              bg: 'ground',
              boxShadow: 'md',
              onClick: (event: React.MouseEvent) => {
                if (event.target instanceof Element && event.target.closest('[data-row] button, a') !== null)
                  setOver(undefined)
              },
              onKeyDown: (event: KeyboardEvent) => event.key === 'Escape' && setOver(undefined),
            }
          : {})}
      >
        {column.content}
      </Box>
    )
  return (
    <Box
      ref={box}
      as={as}
      aria-label={label}
      display="grid"
      position="relative"
      h="100%"
      minH="0"
      minW="0"
      tabIndex={-1}
      gridTemplateRows="minmax(0, 1fr)"
      style={{ gridTemplateColumns: `${beside('start', start)} minmax(0, 1fr) ${beside('end', end)}` }}
    >
      {start !== undefined && !isNarrow && content('start', start)}
      {start !== undefined && edge('start', start)}
      {children}
      {end !== undefined && edge('end', end)}
      {end !== undefined && !isNarrow && content('end', end)}
      {isNarrow && start !== undefined && content('start', start)}
      {isNarrow && end !== undefined && content('end', end)}
    </Box>
  )
}

function Edge({
  side,
  column,
  isOpen,
  width,
  onToggle,
  onWidth,
  onKeep,
}: {
  side: Side
  column: SideColumn
  isOpen: boolean
  width: number
  onToggle: () => void
  /** While it is being dragged. */
  onWidth: ((width: number) => void) | undefined
  onKeep: (width: number) => void
}) {
  const dragged = useRef<{ readonly x: number; readonly width: number }>(undefined)
  const outwards = side === 'start' ? 1 : -1
  const within = (next: number) => Math.min(WIDTH_MAX, Math.max(WIDTH_MIN, next))
  const draggedTo = ({ clientX }: PointerEvent) =>
    within(dragged.current!.width + ((clientX - dragged.current!.x) / rem()) * outwards)
  const isWide = isOpen && onWidth !== undefined
  const sign = (side === 'start') === isOpen ? '‹' : '›'
  return (
    <Box
      position="relative"
      {...(side === 'start' ? { borderRight: '1px solid' } : { borderLeft: '1px solid' })}
      borderColor="hairline"
      minW="0"
      color="faded"
      _hover={{ bg: 'wash' }}
    >
      {isWide && (
        <Box
          role="separator"
          aria-orientation="vertical"
          aria-label={`Width of ${column.name}`}
          aria-valuenow={Math.round(width)}
          aria-valuemin={WIDTH_MIN}
          aria-valuemax={WIDTH_MAX}
          tabIndex={0}
          position="absolute"
          inset="0"
          cursor="col-resize"
          touchAction="none"
          onKeyDown={(event) => {
            const by = event.key === 'ArrowRight' ? STEP : event.key === 'ArrowLeft' ? -STEP : 0
            if (by === 0) return
            event.preventDefault()
            onKeep(within(width + by * outwards))
          }}
          onPointerDown={(event: PointerEvent<HTMLElement>) => {
            event.currentTarget.setPointerCapture(event.pointerId)
            dragged.current = { x: event.clientX, width }
          }}
          onPointerMove={(event: PointerEvent<HTMLElement>) => {
            if (dragged.current !== undefined) onWidth(draggedTo(event))
          }}
          onPointerUp={(event: PointerEvent) => {
            // pressed alone, it stays as the room suggests
            if (dragged.current !== undefined && dragged.current.x !== event.clientX) onKeep(draggedTo(event))
            dragged.current = undefined
          }}
          onPointerCancel={() => (dragged.current = undefined)}
        />
      )}
      <Bare
        className="column-edge"
        aria-expanded={isOpen}
        aria-label={`${isOpen ? 'Close' : 'Open'} ${column.name}`}
        title={`${isOpen ? 'Close' : 'Open'} ${column.name} (${COLUMN_KEYS[side]})`}
        onClick={onToggle}
      >
        {sign}
      </Bare>
    </Box>
  )
}

function widthOf(kept: Kept, column: SideColumn): number {
  return kept.width ?? column.width
}

const keyOf = (name: string) => `paper-compass.columns.${name}`

function read(name: string): Readonly<Record<Side, Kept>> {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(name)) ?? '{}') as Partial<Record<Side, Kept>>
    return { start: kept.start ?? {}, end: kept.end ?? {} }
  } catch {
    return { start: {}, end: {} }
  }
}
