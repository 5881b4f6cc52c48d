import { COLUMN, curveOf, isReturn } from '../../core/atlas/picture'
import { NO_BEAT } from '../../core/story/roads'
import { STRIP, type Sheet } from './sheet'

/** With a smaller scale no marks are drawn. */
export const MARKS_FROM = 0.1
/** With more of them in view, roads are drawn as bundles, beats as profiles. */
const ROADS_MAX = 450
const BEATS_MAX = 900

export const sx = ({ look }: Sheet, x: number) => x * look.k + look.x
export const sy = ({ look }: Sheet, y: number) => y * look.k + look.y

/** What of the chart is in view, in its own units, with a little around it. */
function bounds({ look, width, height }: Sheet): { left: number; right: number; top: number; bottom: number } {
  const around = 40 / look.k
  return {
    left: -look.x / look.k - around - COLUMN,
    right: (width - look.x) / look.k + around,
    top: (STRIP - look.y) / look.k - around,
    bottom: (height - look.y) / look.k + around,
  }
}

export function eachBandInView(sheet: Sheet, hear: (band: number) => void): void {
  const { bandTop, bandHeight } = sheet.picture
  const { top, bottom } = bounds(sheet)
  for (let band = 0; band < bandTop.length; band += 1)
    if (bandTop[band]! + bandHeight[band]! >= top && bandTop[band]! <= bottom) hear(band)
}

/** The beats of open bands in view; undefined where they are too many to be told apart. */
export function visibleBeats(sheet: Sheet): number[] | undefined {
  const { picture } = sheet
  const { left, right, top, bottom } = bounds(sheet)
  const found: number[] = []
  eachBandInView(sheet, (band) => {
    if (!picture.open[band]) return
    const members = picture.members[band]!
    for (let at = firstFrom(members, picture.x, left); at < members.length; at += 1) {
      const beat = members[at]!
      if (picture.x[beat]! > right) break
      if (picture.y[beat]! >= top && picture.y[beat]! <= bottom) found.push(beat)
      if (found.length > BEATS_MAX && !sheet.isFile) return
    }
  })
  return found.length > BEATS_MAX && !sheet.isFile ? undefined : found
}

/** Index of the first member at or right of `left`, by bisection. */
function firstFrom(members: Int32Array, x: Float64Array, left: number): number {
  let [low, high] = [0, members.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (x[members[middle]!]! < left) low = middle + 1
    else high = middle
  }
  return low
}

/** The roads in view; undefined where they are too many. */
export function visibleRoads(sheet: Sheet): number[] | undefined {
  const { x, y, chart, open } = sheet.picture
  const { roads, bandOf } = chart
  const { left, right, top, bottom } = bounds(sheet)
  const found: number[] = []
  for (let road = 0; road < roads.count; road += 1) {
    const from = roads.from[road]!
    const to = roads.to[road] === NO_BEAT || isReturn(roads, road) ? from : roads.to[road]!
    if (x[from]! > right && x[to]! > right) continue
    if (x[from]! < left && x[to]! < left) continue
    if (y[from]! > bottom && y[to]! > bottom) continue
    if (y[from]! < top && y[to]! < top) continue
    // what goes on inside of a closed band is not told
    if (!open[bandOf[from]!] && bandOf[from] === bandOf[to]) continue
    found.push(road)
    if (found.length > ROADS_MAX && !sheet.isFile) return undefined
  }
  return found
}

/** A point of a road's curve, in pixels of the view. */
export function pointOn(sheet: Pick<Sheet, 'picture' | 'look'>, road: number, t: number): readonly [number, number] {
  const [x1, y1, x2, y2, x3, y3, x4, y4] = curveOf(sheet.picture, road)
  const u = 1 - t
  const [a, b, c, d] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t]
  const { look } = sheet
  return [(a * x1 + b * x2 + c * x3 + d * x4) * look.k + look.x, (a * y1 + b * y2 + c * y3 + d * y4) * look.k + look.y]
}

/** Within so many pixels of a road one is on it. */
const REACH = 6
/** A road's curve is looked at in so many points. */
const SAMPLES = 24

/** The road that a point of the view is on, the picked beat's before others; undefined where roads are drawn together. */
export function roadNear(sheet: Sheet, x: number, y: number): number | undefined {
  if (sheet.look.k < MARKS_FROM || visibleBeats(sheet) === undefined) return undefined
  const { from } = sheet.picture.chart.roads
  let best: { road: number; distance: number } | undefined
  for (const road of visibleRoads(sheet) ?? []) {
    for (let step = 1; step < SAMPLES; step += 1) {
      const [px, py] = pointOn(sheet, road, step / SAMPLES)
      const distance = Math.hypot(px - x, py - y) - (from[road] === sheet.picked ? 2 : 0)
      if (distance < REACH && (best === undefined || distance < best.distance)) best = { road, distance }
    }
  }
  return best?.road
}

/** A text as far as it has room, by the mean width of its letters. */
export function cut(text: string, room: number, letter: number): string {
  const most = Math.floor(room / letter)
  if (text.length <= most) return text
  return most < 4 ? '' : `${text.slice(0, most - 1).trimEnd()}…`
}
