import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import { Chart } from './chart'

const WIDTH = 400
const HEIGHT = 150
const LEFT = 34
const RIGHT = 60
const BOTTOM = 36
const TOP = 8

export interface SpreadStep {
  readonly decisions: number
  readonly least: number
  readonly lowerQuartile: number
  readonly median: number
  readonly upperQuartile: number
  readonly most: number
}

/** A number over the course of many playthroughs: thin lines for the ends, a band for the middle half, a strong line for the median. */
export function SpreadChart({ title, file, steps }: { title: string; file: string; steps: readonly SpreadStep[] }) {
  const last = steps.at(-1)!
  const lowest = Math.min(...steps.map(({ least }) => least))
  const highest = Math.max(...steps.map(({ most }) => most))
  const x = scaleLinear([0, Math.max(1, last.decisions)], [LEFT, WIDTH - RIGHT])
  const y = scaleLinear([lowest, Math.max(highest, lowest + 1)], [HEIGHT - BOTTOM, TOP])
  const path = (of: (step: SpreadStep) => number) =>
    line<SpreadStep>(
      (step) => x(step.decisions),
      (step) => y(of(step)),
    )(steps) ?? ''
  const band =
    area<SpreadStep>(
      (step) => x(step.decisions),
      (step) => y(step.lowerQuartile),
      (step) => y(step.upperQuartile),
    )(steps) ?? ''
  // names stand beside the lines' ends, as far apart as letters are high
  const labels = [
    { name: 'most', at: y(last.most) },
    { name: 'median', at: y(last.median) },
    { name: 'least', at: y(last.least) },
  ]
  labels.forEach((label, at) => (label.at = Math.max(label.at, at === 0 ? TOP + 4 : labels[at - 1]!.at + 13)))
  return (
    <Chart
      title={title}
      file={file}
      width={WIDTH}
      height={HEIGHT}
      says={`${title}: after ${last.decisions} decisions from ${last.least} to ${last.most}, median ${last.median}`}
    >
      {y
        .ticks(Math.min(4, highest - lowest))
        .filter(Number.isInteger)
        .map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(tick)} y2={y(tick)} stroke="currentColor" strokeOpacity="0.18" />
            <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end">
              {tick}
            </text>
          </g>
        ))}
      <path d={band} fillOpacity="0.22" />
      <path d={path(({ most }) => most)} fill="none" stroke="currentColor" strokeWidth="1" />
      <path d={path(({ least }) => least)} fill="none" stroke="currentColor" strokeWidth="1" strokeDasharray="2 3" />
      <path d={path(({ median }) => median)} fill="none" stroke="currentColor" strokeWidth="2.4" />
      {labels.map(({ name, at }) => (
        <text key={name} x={WIDTH - RIGHT + 5} y={at + 4} fontSize="12" fontWeight={name === 'median' ? 600 : 400}>
          {name}
        </text>
      ))}
      {x
        .ticks(6)
        .filter(Number.isInteger)
        .map((tick) => (
          <text key={tick} x={x(tick)} y={HEIGHT - BOTTOM + 16} textAnchor="middle">
            {tick}
          </text>
        ))}
      <text x={(LEFT + WIDTH - RIGHT) / 2} y={HEIGHT - 4} textAnchor="middle" fillOpacity="0.8">
        decisions made
      </text>
    </Chart>
  )
}
