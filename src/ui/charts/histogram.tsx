import { scaleLinear } from 'd3-scale'
import { Chart } from './chart'

const WIDTH = 400
const HEIGHT = 190
const LEFT = 44
const BOTTOM = 38
const TOP = 20
const RIGHT = 22

export interface HistogramBar {
  readonly from: number
  readonly to: number
  readonly plays: number
}

interface Props {
  readonly title: string
  readonly file: string
  readonly bars: readonly HistogramBar[]
  readonly median: number
  /** What is counted, on the axis below. */
  readonly of: string
}

/** How often numbers lie where, with the median marked. */
export function Histogram({ title, file, bars, median, of }: Props) {
  const x = scaleLinear([bars[0]!.from, bars.at(-1)!.to], [LEFT, WIDTH - RIGHT])
  const y = scaleLinear([0, Math.max(...bars.map(({ plays }) => plays))], [HEIGHT - BOTTOM, TOP]).nice(4)
  const middle = x(median + (bars[0]!.to - bars[0]!.from === 1 ? 0.5 : 0))
  return (
    <Chart
      title={title}
      file={file}
      width={WIDTH}
      height={HEIGHT}
      says={`${of}: from ${bars[0]!.from} to ${bars.at(-1)!.to - 1}, median ${median}`}
    >
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(tick)} y2={y(tick)} stroke="currentColor" strokeOpacity="0.18" />
          <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end">
            {tick}
          </text>
        </g>
      ))}
      {bars.map(({ from, to, plays }) => (
        <rect
          key={from}
          x={x(from) + 0.5}
          width={Math.max(1, x(to) - x(from) - 1)}
          y={y(plays)}
          height={y(0) - y(plays)}
          fillOpacity="0.55"
        >
          <title>{`${to - from === 1 ? from : `${from} to ${to - 1}`}: ${plays} ${plays === 1 ? 'playthrough' : 'playthroughs'}`}</title>
        </rect>
      ))}
      <line x1={middle} x2={middle} y1={TOP} y2={y(0)} stroke="currentColor" strokeWidth="2" strokeDasharray="5 3" />
      <text x={middle} y={TOP - 6} textAnchor="middle" fontWeight="600">
        median {median}
      </text>
      <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(0)} y2={y(0)} stroke="currentColor" />
      {x.ticks(6).map((tick) => (
        <text key={tick} x={x(tick)} y={HEIGHT - BOTTOM + 17} textAnchor="middle">
          {tick}
        </text>
      ))}
      <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 5} textAnchor="middle" fillOpacity="0.8">
        {of}
      </text>
    </Chart>
  )
}
