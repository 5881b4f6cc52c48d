import type { SimulationResult } from '../../simulate/result'

type Cell = string | number

const SHARE_DIGITS = 4

/**
 * The figures of a simulation as one table for spreadsheets: a row for each ending, stage, beat and
 * choice with its share of the playthroughs, then the spreads, then each counter after each decision.
 */
export function simulationTable(result: SimulationResult): readonly (readonly Cell[])[] {
  const share = ({ share }: { readonly share: number }) => Number(share.toFixed(SHARE_DIGITS))
  const rows: Cell[][] = [
    [
      'what',
      'of',
      'decisions',
      'plays',
      'share',
      'times',
      'offered',
      'least',
      'lower quartile',
      'median',
      'upper quartile',
      'most',
      'mean',
    ],
  ]
  const spread = (one: {
    least: Cell
    lowerQuartile: Cell
    median: Cell
    upperQuartile: Cell
    most: Cell
    mean: number
  }): Cell[] => [
    one.least,
    one.lowerQuartile,
    one.median,
    one.upperQuartile,
    one.most,
    Number(one.mean.toFixed(SHARE_DIGITS)),
  ]
  for (const [id, one] of Object.entries(result.endings)) rows.push(['ending', id, '', one.plays, share(one)])
  for (const [how, one] of Object.entries(result.unended)) rows.push(['no ending', how, '', one.plays, share(one)])
  for (const [id, one] of Object.entries(result.stages)) rows.push(['stage', id, '', one.plays, share(one)])
  for (const [address, one] of Object.entries(result.beats))
    rows.push(['beat', address, '', one.plays, share(one), one.times])
  for (const [address, one] of Object.entries(result.choices))
    rows.push(['choice', address, '', one.plays, share(one), one.taken, one.offered])
  for (const what of ['decisions', 'words'] as const) {
    const found = result[what].spread
    if (found !== undefined) rows.push([what, 'playthrough', '', result.plays, 1, '', '', ...spread(found)])
  }
  for (const [id, steps] of Object.entries(result.counters)) {
    for (const step of steps)
      rows.push([
        'counter',
        id,
        step.decisions,
        step.plays,
        Number((step.plays / result.plays).toFixed(SHARE_DIGITS)),
        '',
        '',
        ...spread(step),
      ])
  }
  return rows
}
