import { COLUMN, curveOf, isReturn, ROW } from '../../core/atlas/picture'
import { NO_BEAT, ROAD_KINDS, TAKEN, type RoadKind } from '../../core/story/roads'
import { bundlesOf } from './bundles'
import { drawMark, drawSign } from './marks'
import type { Pen, Sink, Stroke } from './pen'
import { drawStrip } from './strip'
import { ruleStep, STRIP, type EdgeTag, type Sheet } from './sheet'

/** With a scale below these no marks, no titles, no first words and no texts of choices are drawn. */
const MARKS_FROM = 0.1
const TITLES_FROM = 0.32
const WORDS_FROM = 1.3
/** From here on titles stand over their marks. */
const OVER_FROM = 0.8
const CHOICES_FROM = 0.85
/** With more of them in view, roads are drawn as bundles, beats as profiles. */
const ROADS_MAX = 450
const BEATS_MAX = 900
/** Bundles that are drawn, and that are numbered, the largest first. */
const BUNDLES_MAX = 500
const NUMBERED_MAX = 60

const ROAD_STROKES: Readonly<Record<RoadKind, Stroke>> = {
  choice: {},
  encounter: {},
  redirect: { dash: [7, 4] },
  onward: { dash: [1.5, 3], width: 1.8 },
  return: { dash: [2, 2] },
}

/** Draws a sheet; gives the tags at the edges of the view. */
export function draw(pen: Pen, sheet: Sheet): readonly EdgeTag[] {
  const { look, width, height, palette } = sheet
  pen.path((sink) => sink.rect(0, 0, width, height), { fill: palette.ground })
  const beats = visibleBeats(sheet)
  const isFar = beats === undefined || look.k < MARKS_FROM
  drawBands(pen, sheet)
  drawRules(pen, sheet)
  drawProfiles(pen, sheet, isFar)
  const roads = isFar ? undefined : visibleRoads(sheet)
  if (roads === undefined) drawBundles(pen, sheet)
  else drawRoads(pen, sheet, roads)
  drawPickedRoads(pen, sheet)
  if (!isFar) {
    for (const beat of beats) if (beat !== sheet.picked) drawBeat(pen, sheet, beat)
    drawGroups(pen, sheet)
    // over all others, for its name is written in full
    if (sheet.picked !== undefined) drawBeat(pen, sheet, sheet.picked)
  } else {
    for (const beat of sheet.routeBeats) drawBeat(pen, sheet, beat)
    if (sheet.picked !== undefined) drawBeat(pen, sheet, sheet.picked)
    if (sheet.found !== undefined) for (const beat of [...sheet.found].slice(0, BEATS_MAX)) drawBeat(pen, sheet, beat)
  }
  if (roads !== undefined) drawRoadWords(pen, sheet, roads)
  drawSceneTitles(pen, sheet)
  const tags = sheet.isFile ? [] : drawEdgeTags(pen, sheet)
  drawStrip(pen, sheet)
  return tags
}

const sx = ({ look }: Sheet, x: number) => x * look.k + look.x
const sy = ({ look }: Sheet, y: number) => y * look.k + look.y

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

function eachBandInView(sheet: Sheet, hear: (band: number) => void): void {
  const { bandTop, bandHeight } = sheet.picture
  const { top, bottom } = bounds(sheet)
  for (let band = 0; band < bandTop.length; band += 1)
    if (bandTop[band]! + bandHeight[band]! >= top && bandTop[band]! <= bottom) hear(band)
}

/** The beats of open bands in view; undefined where they are too many to be told apart. */
function visibleBeats(sheet: Sheet): number[] | undefined {
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
function visibleRoads(sheet: Sheet): number[] | undefined {
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

function drawBands(pen: Pen, sheet: Sheet): void {
  const { picture, palette, look, width } = sheet
  const { bandTop, bandHeight, marginLeft, chart } = picture
  const right = Math.min(width, sx(sheet, picture.width + COLUMN / 2))
  const left = Math.max(0, sx(sheet, -COLUMN / 4))
  if (right <= left) return
  const edge = Math.max(left, sx(sheet, marginLeft - COLUMN / 4))
  const tracing = (from: number, isWanted: (band: number) => boolean) => (sink: Sink) =>
    eachBandInView(sheet, (band) => {
      if (!isWanted(band)) return
      const [top, high] = [sy(sheet, bandTop[band]!), bandHeight[band]! * look.k]
      sink.rect(from, top + 1, right - from, Math.max(0.5, high - 2))
    })
  pen.path(
    tracing(left, () => true),
    { fill: palette.sheet },
  )
  if (edge < right)
    pen.path(
      tracing(edge, (band) => chart.marginColumns[band]! > 0 && picture.open[band]!),
      { fill: palette.wash, stroke: palette.edge, dash: [3, 3] },
    )
}

/** Light rules every few decisions. */
function drawRules(pen: Pen, sheet: Sheet): void {
  const { palette, height, picture, width } = sheet
  const step = ruleStep(sheet.look.k)
  const bottom = Math.min(height, sy(sheet, picture.height))
  pen.path(
    (sink) => {
      for (let column = 0; column < picture.chart.columns; column += step) {
        const at = sx(sheet, column * COLUMN)
        if (at < 0 || at > width) continue
        sink.moveTo(at, STRIP)
        sink.lineTo(at, bottom)
      }
    },
    { stroke: palette.hairline },
  )
}

/** How many beats at each distance: the profiles of closed bands, from afar of all. */
function drawProfiles(pen: Pen, sheet: Sheet, isFar: boolean): void {
  const { picture, look, palette, width } = sheet
  const bands: number[] = []
  eachBandInView(sheet, (band) => {
    if (isFar || !picture.open[band]) bands.push(band)
  })
  const wide = Math.max(1, COLUMN * look.k * 0.7)
  const isNumbered = COLUMN * look.k >= 26
  const each = (hear: (at: number, foot: number, tall: number, beats: number, high: number) => void) => {
    for (const band of bands) {
      const bars = picture.profiles[band]!
      const most = bars.reduce((max, bar) => Math.max(max, bar.beats), 1)
      const high = picture.bandHeight[band]! * look.k
      const foot = sy(sheet, picture.bandTop[band]!) + high - Math.min(8, high * 0.1)
      const room = Math.max(2, Math.min(high - 16, high * 0.6))
      for (const { column, beats } of bars) {
        const at = sx(sheet, (column + 0.5) * COLUMN)
        if (at >= -wide && at <= width + wide) hear(at, foot, Math.max(1.5, (room * beats) / most), beats, high)
      }
    }
  }
  pen.path((sink) => each((at, foot, tall) => sink.rect(at - wide / 2, foot - tall, wide, tall)), {
    fill: palette.edge,
    alpha: 0.75,
  })
  if (!isNumbered) return
  each((at, foot, tall, beats, high) => {
    if (high < 34) return
    pen.text(String(beats), at, foot - tall - 3, { size: 10.5, color: palette.faded, align: 'middle' })
  })
}

function traceRoad(sheet: Sheet, sink: Sink, road: number, whole = false): void {
  const curve = curveOf(sheet.picture, road, whole)
  sink.moveTo(sx(sheet, curve[0]), sy(sheet, curve[1]))
  sink.bezierCurveTo(
    sx(sheet, curve[2]),
    sy(sheet, curve[3]),
    sx(sheet, curve[4]),
    sy(sheet, curve[5]),
    sx(sheet, curve[6]),
    sy(sheet, curve[7]),
  )
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

/** Roads in view, those of one kind in one stroke; backward ones lighter, those that no route takes broken. */
function drawRoads(pen: Pen, sheet: Sheet, list: readonly number[]): void {
  const { picture, palette, overlay, look } = sheet
  const { roads, taken } = picture.chart
  const piles = new Map<string, { style: Stroke; roads: number[] }>()
  for (const road of list) {
    const kind = ROAD_KINDS[roads.kind[road]!]!
    const to = roads.to[road]!
    const isBack = to !== NO_BEAT && !isReturn(roads, road) && picture.x[to]! <= picture.x[roads.from[road]!]!
    const breadth = overlay?.road?.(road)?.width
    const isNever = taken[road] === TAKEN.never
    const name = `${kind} ${isBack} ${isNever} ${breadth ?? ''} ${isLong(sheet, road)}`
    let pile = piles.get(name)
    if (pile === undefined) {
      const style: Stroke = {
        stroke: isNever ? palette.needle : palette.faded,
        width: 1.1,
        ...ROAD_STROKES[kind],
        // dashes are laid along all of a line, most of it out of view
        ...(isLong(sheet, road) ? { dash: [] } : {}),
        alpha: isBack ? 0.35 : overlay?.road === undefined ? 0.75 : 0.35,
        ...(breadth === undefined
          ? {}
          : { width: breadth * Math.max(0.3, Math.min(1, look.k)), stroke: palette.kept, alpha: 0.8 }),
      }
      piles.set(name, (pile = { style, roads: [] }))
    }
    pile.roads.push(road)
  }
  for (const { style, roads: some } of piles.values())
    pen.path((sink) => some.forEach((road) => traceRoad(sheet, sink, road)), style)
  drawRoadMarks(pen, sheet, list)
}

const LONG = 2_500

function isLong({ picture, look, isFile }: Sheet, road: number): boolean {
  const [x1, y1, , , , , x2, y2] = curveOf(picture, road)
  return !isFile && (Math.abs(x2 - x1) + Math.abs(y2 - y1)) * look.k > LONG
}

/** A lozenge on an encounter, a hook on a return, a gap with a cross on what no route takes. */
function drawRoadMarks(pen: Pen, sheet: Sheet, list: readonly number[]): void {
  const { picture, palette, look } = sheet
  const { roads, taken } = picture.chart
  if (look.k < 0.2) return
  const size = Math.min(4, 7 * look.k)
  for (const road of list) {
    const kind = ROAD_KINDS[roads.kind[road]!]!
    if (taken[road] === TAKEN.never) {
      const [x, y] = pointOn(sheet, road, 0.5)
      pen.path((sink) => sink.arc(x, y, size + 3, 0, 2 * Math.PI), { fill: palette.sheet })
      pen.path(
        (sink) => {
          sink.moveTo(x - size, y - size)
          sink.lineTo(x + size, y + size)
          sink.moveTo(x + size, y - size)
          sink.lineTo(x - size, y + size)
        },
        { stroke: palette.needle, width: 1.4 },
      )
    } else if (kind === 'encounter') {
      const [x, y] = pointOn(sheet, road, 0.32)
      pen.path(
        (sink) => {
          sink.moveTo(x, y - size)
          sink.lineTo(x + size, y)
          sink.lineTo(x, y + size)
          sink.lineTo(x - size, y)
          sink.closePath()
        },
        { fill: palette.sheet, stroke: palette.ink },
      )
    } else if (kind === 'return') {
      const [x, y] = pointOn(sheet, road, 1)
      pen.path((sink) => sink.arc(x, y, size, Math.PI * 0.5, Math.PI * 1.9), { stroke: palette.ink, width: 1.3 })
    }
  }
}

/** The roads of the picked beat, and those of the route, over the others. */
function drawPickedRoads(pen: Pen, sheet: Sheet): void {
  const { picture, palette, picked, pickedRoad, route } = sheet
  const { roads } = picture.chart
  const trace = (list: readonly number[], style: Stroke) => {
    if (list.length > 0) pen.path((sink) => list.forEach((road) => traceRoad(sheet, sink, road, true)), style)
  }
  if (route.size > 0) trace([...route], { stroke: palette.needle, width: 2.6, alpha: 0.85 })
  if (picked !== undefined) {
    const own: number[] = []
    for (let road = 0; road < roads.count; road += 1)
      // the stubs of those that return here stay stubs: there can be hundreds
      if (roads.from[road] === picked || (roads.to[road] === picked && !isReturn(roads, road))) own.push(road)
    trace(own, { stroke: palette.ink, width: 1.7 })
  }
  if (pickedRoad !== undefined) {
    trace([pickedRoad], { stroke: palette.sheet, width: 6 })
    trace([pickedRoad], { stroke: palette.needle, width: 3.2 })
  }
}

/** From afar: roads from place to place together, the broader the more, the largest with their number. */
function drawBundles(pen: Pen, sheet: Sheet): void {
  const { picture, palette, look, width, height } = sheet
  const near = Math.max(1, Math.ceil(46 / (COLUMN * look.k)))
  let drawn = 0
  const numbered: { x: number; y: number; count: number }[] = []
  // those of one breadth in one stroke
  const piles = new Map<number, (readonly [number, number, number, number])[]>()
  for (const { fromX, fromY, toX, toY, count } of bundlesOf(picture, near)) {
    const [x1, y1, x2, y2] = [sx(sheet, fromX), sy(sheet, fromY), sx(sheet, toX), sy(sheet, toY)]
    if (Math.max(x1, x2) < 0 || Math.min(x1, x2) > width) continue
    if (Math.max(y1, y2) < STRIP || Math.min(y1, y2) > height) continue
    if ((drawn += 1) > BUNDLES_MAX) break
    const breadth = Math.round(Math.min(9, 0.7 + Math.log2(count) * 0.8))
    const pile = piles.get(breadth)
    if (pile === undefined) piles.set(breadth, [[x1, y1, x2, y2]])
    else pile.push([x1, y1, x2, y2])
    if (count > 2 && numbered.length < NUMBERED_MAX && Math.hypot(x2 - x1, y2 - y1) > 44)
      numbered.push({ x: (x1 + x2) / 2, y: (y1 + y2) / 2, count })
  }
  for (const [breadth, pile] of piles)
    pen.path(
      (sink) => {
        for (const [x1, y1, x2, y2] of pile) {
          const bend = Math.max(14, Math.abs(x2 - x1) / 2)
          sink.moveTo(x1, y1)
          sink.bezierCurveTo(x1 + bend, y1, x2 - bend, y2, x2, y2)
        }
      },
      { stroke: palette.faded, width: breadth, alpha: 0.4 },
    )
  for (const { x, y, count } of numbered)
    pen.text(String(count), x, y + 4, { size: 11, color: palette.ink, align: 'middle', halo: palette.sheet })
}

function drawBeat(pen: Pen, sheet: Sheet, beat: number): void {
  const { picture, look, palette, words, overlay, picked, found, routeBeats } = sheet
  const [x, y] = [sx(sheet, picture.x[beat]!), sy(sheet, picture.y[beat]!)]
  const size = Math.max(1.6, Math.min(4.6, 9 * look.k))
  const isLit = found?.has(beat) ?? true
  const isPicked = beat === picked
  const sign = overlay?.beat(beat)
  if (sign !== undefined) drawSign(pen, sign, x, y, Math.max(3.5, Math.min(11, 22 * look.k)), palette)
  drawMark(pen, {
    x,
    y,
    size,
    palette,
    verdict: sheet.verdict(beat),
    isStart: beat === picture.chart.start,
    isEnding: words.isEnding(beat),
    isPlace: words.isPlace(beat),
    isByRoads: picture.chart.byRoads[beat] === 1,
    isPicked,
    isOnRoute: routeBeats.has(beat),
    isLit,
  })
  const free = (picture.free[beat]! + 1) * COLUMN * look.k - 10
  if (look.k < TITLES_FROM && !isPicked && !(found !== undefined && isLit && found.size < 60)) return
  // near enough it stands over its mark, and leaves the row to the roads
  const isOver = look.k >= OVER_FROM
  const title = cut(words.title(beat), free - (isOver ? 0 : size + 5), isPicked ? 7 : 6.4)
  const aside = words.isEnding(beat) ? size + 12 : size + 4
  if (title !== '')
    pen.text(title, isOver ? x - size : x + aside, isOver ? y - size - 4 : y + 4, {
      size: 12.5,
      family: 'story',
      weight: isPicked || (found !== undefined && isLit) ? 650 : 400,
      color: isLit ? palette.ink : palette.edge,
      halo: palette.sheet,
    })
  if (sign?.words !== undefined && look.k > 0.5)
    pen.text(sign.words, isOver ? x + size + 6 : x + aside + title.length * 6.4 + 6, y + 4, {
      size: 10.5,
      color: palette.faded,
      halo: palette.sheet,
    })
  if (look.k >= WORDS_FROM) {
    const first = cut(words.first(beat), free - 8, 5.4)
    pen.text(first, x + size + 3, y + 14, {
      size: 11,
      family: 'story',
      italic: true,
      color: palette.faded,
      halo: palette.sheet,
    })
  }
}

/** What a choice says, on its road. */
function drawRoadWords(pen: Pen, sheet: Sheet, list: readonly number[]): void {
  const { picture, look, palette, words, picked, overlay } = sheet
  const { roads } = picture.chart
  const isNear = look.k >= CHOICES_FROM
  if (!isNear && picked === undefined) return
  const taken = new Set<string>()
  for (const road of list) {
    const isOwn = roads.from[road] === picked
    if (!isNear && !(isOwn && look.k > 0.4)) continue
    const number = overlay?.road?.(road)?.words
    const isStub = isReturn(roads, road)
    const [x, y] = pointOn(sheet, road, isStub ? 1 : 0.55)
    const said = [isStub ? words.home(road) : words.road(road), number].filter(Boolean).join(' · ')
    // of several in one place the first is written
    const spot = `${Math.round(x / 90)} ${Math.round(y / 12)}`
    if (said === '' || taken.has(spot)) continue
    taken.add(spot)
    pen.text(cut(said, Math.max(70, COLUMN * look.k * 0.8), 5.6), isStub ? x + 8 : x, isStub ? y + 5 : y - 3, {
      size: isStub ? 10.5 : 11,
      italic: true,
      color: isOwn ? palette.ink : palette.faded,
      align: isStub ? 'start' : 'middle',
      halo: palette.sheet,
    })
  }
}

function drawGroups(pen: Pen, sheet: Sheet): void {
  const { picture, look, palette, words } = sheet
  if (look.k < TITLES_FROM) return
  picture.chart.groups.forEach(({ beats, band }, group) => {
    const [first] = beats
    if (first === undefined || !picture.open[band]) return
    const [x, y] = [sx(sheet, picture.x[first]!), sy(sheet, picture.y[first]! - ROW)]
    pen.text(cut(words.group(group), COLUMN * look.k * 1.35, 6), x - 8, y + 4, {
      size: 11.5,
      weight: 600,
      color: palette.needle,
      halo: palette.wash,
    })
  })
}

/** The title of each scene stays in view with its band. */
function drawSceneTitles(pen: Pen, sheet: Sheet): void {
  const { picture, look, palette, words } = sheet
  const left = Math.max(8, sx(sheet, 0) + 6)
  eachBandInView(sheet, (band) => {
    const top = sy(sheet, picture.bandTop[band]!)
    const high = picture.bandHeight[band]! * look.k
    if (high < 13) return
    const at = Math.min(Math.max(top + Math.min(14, high - 3), STRIP + 15), top + high - 3)
    const sign = picture.open[band] ? '–' : '+'
    pen.text(`${sign} ${words.scene(band)}`, left, at, {
      size: 13,
      family: 'story',
      weight: 600,
      color: palette.ink,
      halo: palette.sheet,
    })
  })
}

const TAG_HIGH = 18
/** More of them would cover the chart; the rest is in the list of roads beside it. */
const TAGS_MAX = 12

/** The other ends of the picked beat's roads that are out of view, at the edge that they are behind. */
function drawEdgeTags(pen: Pen, sheet: Sheet): EdgeTag[] {
  const { picture, picked, palette, words, width, height } = sheet
  if (picked === undefined) return []
  const { roads } = picture.chart
  const ends = new Set<number>()
  for (let road = 0; road < roads.count; road += 1) {
    if (roads.from[road] === picked && roads.to[road] !== NO_BEAT) ends.add(roads.to[road]!)
    if (roads.to[road] === picked && !isReturn(roads, road)) ends.add(roads.from[road]!)
  }
  const tags: EdgeTag[] = []
  for (const beat of ends) {
    if (tags.length === TAGS_MAX) break
    const [x, y] = [sx(sheet, picture.x[beat]!), sy(sheet, picture.y[beat]!)]
    if (x >= 0 && x <= width && y >= STRIP && y <= height) continue
    const said = `${x > width ? '' : x < 0 ? '‹ ' : y < STRIP ? '↑ ' : '↓ '}${cut(words.title(beat), 150, 6.2)}${x > width ? ' ›' : ''}`
    const wide = said.length * 6.4 + 12
    const left = Math.max(4, Math.min(width - wide - 4, x - wide / 2))
    let top = Math.max(STRIP + 4, Math.min(height - TAG_HIGH - 4, y - TAG_HIGH / 2))
    for (const tag of tags)
      if (Math.abs(tag.y - top) < TAG_HIGH && tag.x < left + wide && left < tag.x + tag.width) top = tag.y + TAG_HIGH
    tags.push({ beat, x: left, y: top, width: wide })
    pen.path((sink) => sink.rect(left, top, wide, TAG_HIGH - 2), { fill: palette.ground, stroke: palette.edge })
    pen.text(said, left + 6, top + 12, { size: 11.5, color: palette.ink })
  }
  return tags
}

/** A text as far as it has room, by the mean width of its letters. */
function cut(text: string, room: number, letter: number): string {
  const most = Math.floor(room / letter)
  if (text.length <= most) return text
  return most < 4 ? '' : `${text.slice(0, most - 1).trimEnd()}…`
}
