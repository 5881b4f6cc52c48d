import { isReturn } from '../../core/atlas/picture'
import { NO_BEAT, roadsAt } from '../../core/story/roads'
import { cut, sx, sy } from './in-view'
import type { Pen } from './pen'
import { STRIP, type EdgeTag, type Sheet } from './sheet'

const TAG_HIGH = 18
/** More of them would cover the chart; the rest is in the list of roads beside it. */
const TAGS_MAX = 12

/** The other ends of the picked beat's roads that are out of view, at the edge that they are behind. */
export function drawEdgeTags(pen: Pen, sheet: Sheet): EdgeTag[] {
  const { picture, picked, palette, words, width, height } = sheet
  if (picked === undefined) return []
  const { roads } = picture.chart
  const { out, into } = roadsAt(roads, picked)
  const ends = new Set([
    ...out.map((road) => roads.to[road]!).filter((beat) => beat !== NO_BEAT),
    ...into.filter((road) => !isReturn(roads, road)).map((road) => roads.from[road]!),
  ])
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
