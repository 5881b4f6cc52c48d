import { COLUMN } from '../../core/atlas/picture'
import type { Pen } from './pen'
import { ruleStep, STRIP, type Sheet } from './sheet'

const FOOT = STRIP - 18

/** Along the top: how many beats stand at each distance, and the share of players who get so far. */
export function drawStrip(pen: Pen, sheet: Sheet): void {
  const { look, palette, width, profile, picture } = sheet
  pen.path((sink) => sink.rect(0, 0, width, STRIP), { fill: palette.ground })
  pen.path(
    (sink) => {
      sink.moveTo(0, STRIP)
      sink.lineTo(width, STRIP)
    },
    { stroke: palette.edge },
  )
  const step = ruleStep(look.k)
  for (let column = 0; column < picture.chart.columns; column += step) {
    const at = column * COLUMN * look.k + look.x
    if (at < -60 || at > width) continue
    pen.text(column === 0 ? 'start' : `after ${column}`, at + 4, STRIP - 5, { size: 11, color: palette.faded })
  }
  if (profile === undefined) return
  const most = profile.beats.reduce((max, one) => Math.max(max, one), 1)
  const wide = Math.max(1, COLUMN * look.k * 0.6)
  pen.path(
    (sink) => {
      profile.beats.forEach((beats, column) => {
        const at = (column + 0.5) * COLUMN * look.k + look.x
        if (beats === 0 || at < -wide || at > width + wide) return
        const tall = Math.max(1.5, ((FOOT - 8) * beats) / most)
        sink.rect(at - wide / 2, FOOT - tall, wide, tall)
      })
    },
    { fill: palette.edge, alpha: 0.6 },
  )
  const line = (values: Float64Array, top: number, stroke: string, dash?: readonly number[]) =>
    pen.path(
      (sink) => {
        let isBegun = false
        values.forEach((value, column) => {
          // what is not known is passed over
          if (Number.isNaN(value)) return
          const at = (column + 0.5) * COLUMN * look.k + look.x
          const high = FOOT - ((FOOT - 8) * value) / top
          if (isBegun) sink.lineTo(at, high)
          else sink.moveTo(at, high)
          isBegun = true
        })
      },
      { stroke, width: 1.8, ...(dash && { dash }) },
    )
  if (profile.share !== undefined) line(profile.share, 1, palette.kept)
  if (profile.endings !== undefined)
    line(
      profile.endings,
      profile.endings.reduce((most, one) => Math.max(most, one || 0), 1),
      palette.needle,
      [5, 3],
    )
}
