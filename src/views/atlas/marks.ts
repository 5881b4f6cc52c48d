import type { Pen } from './pen'
import type { Palette, Sign } from './sheet'

const ROUND = 2 * Math.PI

interface Mark {
  readonly x: number
  readonly y: number
  readonly size: number
  readonly palette: Palette
  readonly verdict: 'reached' | 'unreached' | 'undecided'
  readonly isStart: boolean
  readonly isEnding: boolean
  readonly isPlace: boolean
  readonly isByRoads: boolean
  readonly isPicked: boolean
  readonly isOnRoute: boolean
  readonly isLit: boolean
}

/** A beat: its verdict by shape, and what it is by what stands around it. */
export function drawMark(pen: Pen, mark: Mark): void {
  const { x, y, size, palette, verdict, isLit } = mark
  const tone = !isLit
    ? palette.edge
    : verdict === 'reached'
      ? palette.kept
      : verdict === 'unreached'
        ? palette.needle
        : palette.ochre
  if (mark.isPlace) pen.path((sink) => sink.arc(x, y, size + 3, 0, ROUND), { stroke: tone, width: 1.2 })
  if (verdict === 'unreached') {
    const half = size * 0.9
    pen.path(
      (sink) => {
        sink.rect(x - half, y - half, 2 * half, 2 * half)
        sink.moveTo(x - half, y - half)
        sink.lineTo(x + half, y + half)
        sink.moveTo(x + half, y - half)
        sink.lineTo(x - half, y + half)
      },
      { stroke: tone, width: 1.3, fill: palette.sheet },
    )
  } else if (verdict === 'undecided' || mark.isByRoads)
    pen.path(
      (sink) => {
        sink.moveTo(x, y - size - 1)
        sink.lineTo(x + size + 1, y)
        sink.lineTo(x, y + size + 1)
        sink.lineTo(x - size - 1, y)
        sink.closePath()
      },
      { stroke: tone, width: 1.3, fill: palette.sheet },
    )
  else pen.path((sink) => sink.arc(x, y, size, 0, ROUND), { fill: tone })
  // where the story ends: a foot that goes no further
  if (mark.isEnding)
    pen.path(
      (sink) => {
        sink.moveTo(x + size + 4, y - size - 3)
        sink.lineTo(x + size + 4, y + size + 3)
        sink.moveTo(x + size + 7, y - size - 3)
        sink.lineTo(x + size + 7, y + size + 3)
      },
      { stroke: tone, width: 1.6 },
    )
  if (mark.isStart)
    pen.path(
      (sink) => {
        sink.moveTo(x - size - 11, y - size)
        sink.lineTo(x - size - 3, y)
        sink.lineTo(x - size - 11, y + size)
        sink.closePath()
      },
      { fill: palette.needle },
    )
  if (mark.isOnRoute) pen.path((sink) => sink.arc(x, y, size + 1.5, 0, ROUND), { stroke: palette.needle, width: 2 })
  if (mark.isPicked) {
    pen.path((sink) => sink.arc(x, y, size + 6, 0, ROUND), { stroke: palette.needle, width: 2 })
    pen.path(
      (sink) => {
        sink.moveTo(x, y - size - 13)
        sink.lineTo(x + 3.5, y - size - 6)
        sink.lineTo(x - 3.5, y - size - 6)
        sink.closePath()
      },
      { fill: palette.needle },
    )
  }
}

/** What an overlay says of a beat. */
export function drawSign(
  pen: Pen,
  { shape, size: amount = 0 }: Sign,
  x: number,
  y: number,
  size: number,
  palette: Palette,
): void {
  const square = () =>
    pen.path((sink) => sink.rect(x - size, y - size, 2 * size, 2 * size), { stroke: palette.ink, width: 1.6 })
  const ring = (stroke: string, width: number, dash?: readonly number[]) =>
    pen.path((sink) => sink.arc(x, y, size, 0, ROUND), { stroke, width, ...(dash && { dash }) })
  switch (shape) {
    case 'ring':
      return ring(palette.ink, 1.4)
    case 'square':
      return square()
    case 'both':
      ring(palette.ink, 1.4)
      return square()
    case 'late':
      return ring(palette.needle, 2, [3, 2.5])
    case 'full':
      return ring(palette.kept, 2.6)
    case 'half':
      return pen.path((sink) => sink.arc(x, y, size, Math.PI * 0.5, Math.PI * 1.5), {
        stroke: palette.ochre,
        width: 2.6,
      })
    case 'struck':
      return pen.path(
        (sink) => {
          sink.moveTo(x - size, y + size)
          sink.lineTo(x + size, y - size)
        },
        { stroke: palette.needle, width: 1.8 },
      )
    case 'amount':
      return pen.path((sink) => sink.arc(x, y, size * (0.3 + 1.5 * Math.sqrt(amount)), 0, ROUND), {
        fill: palette.ochre,
        alpha: 0.35,
      })
    case 'wedge':
      return pen.path(
        (sink) => {
          sink.moveTo(x - size, y + size + 5)
          sink.lineTo(x + size, y + size + 5)
          sink.lineTo(x, y + 5)
          sink.closePath()
        },
        { fill: palette.needle },
      )
  }
}
