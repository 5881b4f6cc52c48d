import { COLUMN } from '../../core/atlas/picture'
import { drawBands, drawGroups, drawProfiles, drawRules, drawSceneTitles, TITLES_FROM } from './draw-ground'
import { drawBundles, drawPickedRoads, drawRoads, drawRoadWords } from './draw-roads'
import { drawEdgeTags } from './edge-tags'
import { cut, MARKS_FROM, sx, sy, visibleBeats, visibleRoads } from './in-view'
import { drawMark, drawSign } from './marks'
import type { Pen } from './pen'
import type { EdgeTag, Sheet } from './sheet'
import { drawStrip } from './strip'

/** With a smaller scale no first words are drawn. */
const WORDS_FROM = 1.3
/** From here on titles stand over their marks. */
const OVER_FROM = 0.8
/** From afar no more of what a search lit up is drawn. */
const LIT_MAX = 900

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
    if (sheet.found !== undefined) for (const beat of [...sheet.found].slice(0, LIT_MAX)) drawBeat(pen, sheet, beat)
  }
  if (roads !== undefined) drawRoadWords(pen, sheet, roads)
  drawSceneTitles(pen, sheet)
  const tags = sheet.isFile ? [] : drawEdgeTags(pen, sheet)
  drawStrip(pen, sheet)
  return tags
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
