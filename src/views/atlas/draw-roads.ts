import { COLUMN, curveOf, isReturn } from '../../core/atlas/picture'
import { NO_BEAT, ROAD_KINDS, roadsAt, TAKEN, type RoadKind } from '../../core/story/roads'
import { bundlesOf } from './bundles'
import { cut, pointOn, sx, sy } from './in-view'
import type { Pen, Sink, Stroke } from './pen'
import { STRIP, type Sheet } from './sheet'

/** With a smaller scale no texts of choices are drawn. */
const CHOICES_FROM = 0.85
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

/** Roads in view, those of one kind in one stroke; backward ones lighter, those that no route takes broken. */
export function drawRoads(pen: Pen, sheet: Sheet, list: readonly number[]): void {
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
export function drawPickedRoads(pen: Pen, sheet: Sheet): void {
  const { picture, palette, picked, pickedRoad, route } = sheet
  const { roads } = picture.chart
  const trace = (list: readonly number[], style: Stroke) => {
    if (list.length > 0) pen.path((sink) => list.forEach((road) => traceRoad(sheet, sink, road, true)), style)
  }
  if (route.size > 0) trace([...route], { stroke: palette.needle, width: 2.6, alpha: 0.85 })
  if (picked !== undefined) {
    const { out, into } = roadsAt(roads, picked)
    // the stubs of those that return here stay stubs: there can be hundreds
    const own = [...out, ...into.filter((road) => !isReturn(roads, road))]
    trace(own, { stroke: palette.ink, width: 1.7 })
  }
  if (pickedRoad !== undefined) {
    trace([pickedRoad], { stroke: palette.sheet, width: 6 })
    trace([pickedRoad], { stroke: palette.needle, width: 3.2 })
  }
}

/** From afar: roads from place to place together, the broader the more, the largest with their number. */
export function drawBundles(pen: Pen, sheet: Sheet): void {
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

/** What a choice says, on its road. */
export function drawRoadWords(pen: Pen, sheet: Sheet, list: readonly number[]): void {
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
