import { NO_BEAT, ROAD_KINDS } from '../story/roads'
import type { Chart } from './chart'

/** Sizes on the chart at its natural scale, in units that are pixels there. */
export const COLUMN = 190
export const ROW = 32
const BAND_TOP = 48
const BAND_FOOT = 14
/** A closed band: its title and its profile; in a story that is long and has few scenes it is taller, up to so many times. */
const CLOSED = 62
const TALLER = 6
/** The height of a chart of closed bands, of its width. */
const FLAT = 0.35
/** From the last column of the chart to the margin. */
const MARGIN_GAP = 0.75
/** A title may run on over so many free columns. */
const RUN_ON = 5

export interface Bar {
  readonly column: number
  readonly beats: number
}

interface Grid {
  readonly scenes: number
  readonly wide: number
}

/** A chart with its bands open or closed: where everything is drawn. */
export interface Picture {
  readonly chart: Chart
  readonly grid: Grid
  readonly open: readonly boolean[]
  readonly bandTop: Float64Array
  readonly bandHeight: Float64Array
  /** Where the margin of each band begins; it is there where the band has unreached beats. */
  readonly marginLeft: number
  readonly width: number
  readonly height: number
  readonly x: Float64Array
  readonly y: Float64Array
  /** Columns to the right in which the row of each beat is free, so that its title can run on. */
  readonly free: Uint8Array
  /** How many beats at each distance, by band. */
  readonly profiles: readonly (readonly Bar[])[]
  /** The beats of each band from left to right. */
  readonly members: readonly Int32Array[]
  /** Beats by band, column and row. */
  readonly at: ReadonlyMap<number, number>
}

export function pictureOf(chart: Chart, isOpen: (scene: string) => boolean): Picture {
  const { beats, scenes, bandOf, column, row, inMargin, rows, marginColumns, columns } = chart
  const open = scenes.map(isOpen)
  const bandTop = new Float64Array(scenes.length)
  const bandHeight = new Float64Array(scenes.length)
  const wanted = (FLAT * columns * COLUMN) / (Math.max(1, scenes.length) * CLOSED)
  const closed = CLOSED * Math.min(TALLER, Math.max(1, wanted))
  let height = 0
  for (let band = 0; band < scenes.length; band += 1) {
    bandTop[band] = height
    bandHeight[band] = open[band] ? BAND_TOP + rows[band]! * ROW + BAND_FOOT : closed
    height += bandHeight[band]!
  }
  const marginLeft = (columns + MARGIN_GAP) * COLUMN
  const margin = Math.max(0, ...marginColumns)
  const width = margin === 0 ? columns * COLUMN : marginLeft + (margin + 0.5) * COLUMN
  const [x, y] = [new Float64Array(beats.length), new Float64Array(beats.length)]
  const grid: Grid = { scenes: scenes.length, wide: Math.max(columns, ...marginColumns) + RUN_ON + 1 }
  const at = new Map<number, number>()
  const counts = scenes.map(() => new Map<number, number>())
  for (let beat = 0; beat < beats.length; beat += 1) {
    const band = bandOf[beat]!
    const isMargin = inMargin[beat] === 1
    x[beat] = (isMargin ? marginLeft : 0) + (column[beat]! + 0.5) * COLUMN
    y[beat] = open[band]
      ? bandTop[band]! + BAND_TOP + (row[beat]! + 0.5) * ROW
      : bandTop[band]! + bandHeight[band]! - BAND_FOOT
    at.set(cellName(grid, band, isMargin, column[beat]!, row[beat]!), beat)
    if (!isMargin) counts[band]!.set(column[beat]!, (counts[band]!.get(column[beat]!) ?? 0) + 1)
  }
  const free = new Uint8Array(beats.length)
  for (let beat = 0; beat < beats.length; beat += 1) {
    let count = 0
    const isFree = (step: number) =>
      !at.has(cellName(grid, bandOf[beat]!, inMargin[beat] === 1, column[beat]! + step, row[beat]!))
    while (count < RUN_ON && isFree(count + 1)) count += 1
    free[beat] = count
  }
  const lists = scenes.map((): number[] => [])
  for (let beat = 0; beat < beats.length; beat += 1) lists[bandOf[beat]!]!.push(beat)
  const members = lists.map((list) => Int32Array.from(list.sort((a, b) => x[a]! - x[b]! || y[a]! - y[b]!)))
  const profiles = counts.map((of) =>
    [...of].map(([where, many]) => ({ column: where, beats: many })).sort((a, b) => a.column - b.column),
  )
  return { chart, grid, open, bandTop, bandHeight, marginLeft, width, height, x, y, free, profiles, members, at }
}

/** Cells are told apart by one number; there is room for columns to the right of all. */
function cellName({ scenes, wide }: Grid, band: number, isMargin: boolean, column: number, row: number): number {
  return ((row * 2 + (isMargin ? 1 : 0)) * wide + column) * scenes + band
}

/** The band at a height; undefined above and below them. */
export function bandAt({ bandTop, bandHeight }: Picture, y: number): number | undefined {
  let [low, high] = [0, bandTop.length - 1]
  while (low <= high) {
    const middle = (low + high) >> 1
    if (y < bandTop[middle]!) high = middle - 1
    else if (y >= bandTop[middle]! + bandHeight[middle]!) low = middle + 1
    else return middle
  }
  return undefined
}

/** The beat within reach of a point, in units of the chart: on its mark, or on its title above it. */
export function beatNear(picture: Picture, x: number, y: number): number | undefined {
  const band = bandAt(picture, y)
  if (band === undefined || !picture.open[band]) return undefined
  const isMargin = x >= picture.marginLeft
  const column = Math.floor((x - (isMargin ? picture.marginLeft : 0)) / COLUMN)
  const row = Math.floor((y - picture.bandTop[band]! - BAND_TOP) / ROW)
  for (let back = 0; back <= Math.min(RUN_ON, column); back += 1) {
    const beat = picture.at.get(cellName(picture.grid, band, isMargin, column - back, row))
    if (beat === undefined) continue
    // left of its mark there is nothing of it
    return back > 0 || x >= picture.x[beat]! - 12 ? beat : undefined
  }
  return undefined
}

/** The four points of a road's curve (a cubic of Bézier), from mark to mark; a stub of a return, unless it is wanted `whole`, and of one that leads nowhere known. */
export function curveOf(
  { x, y, chart: { roads } }: Picture,
  road: number,
  whole = false,
): readonly [number, number, number, number, number, number, number, number] {
  const [from, to] = [roads.from[road]!, roads.to[road]!]
  const [x1, y1] = [x[from]! + 5, y[from]!]
  if (to === NO_BEAT || (!whole && isReturn(roads, road)))
    return [x1, y1, x1 + 12, y1, x1 + 20, y1 + 6, x1 + 20, y1 + 12]
  const [x2, y2] = [x[to]! - 5, y[to]!]
  if (x2 - x1 > 12) {
    const bend = Math.min((x2 - x1) / 2, COLUMN * 0.6)
    return [x1, y1, x1 + bend, y1, x2 - bend, y2, x2, y2]
  }
  const sag = ROW * 0.55
  return [x1, y1, x1 + COLUMN * 0.4, y1 + sag, x2 - COLUMN * 0.4, y2 + sag, x2, y2]
}

/** A return: from many beats to the same places, so that it is a stub until one asks for it. */
export function isReturn({ kind }: Picture['chart']['roads'], road: number): boolean {
  return ROAD_KINDS[kind[road]!] === 'return'
}
