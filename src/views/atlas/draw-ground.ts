import { COLUMN, ROW } from '../../core/atlas/picture'
import { cut, eachBandInView, sx, sy } from './in-view'
import type { Pen, Sink } from './pen'
import { ruleStep, STRIP, type Sheet } from './sheet'

/** With a smaller scale no titles are drawn. */
export const TITLES_FROM = 0.32

export function drawBands(pen: Pen, sheet: Sheet): void {
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
export function drawRules(pen: Pen, sheet: Sheet): void {
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
export function drawProfiles(pen: Pen, sheet: Sheet, isFar: boolean): void {
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

export function drawGroups(pen: Pen, sheet: Sheet): void {
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
export function drawSceneTitles(pen: Pen, sheet: Sheet): void {
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
