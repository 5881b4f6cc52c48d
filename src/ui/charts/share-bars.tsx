import { scaleLinear } from 'd3-scale'
import { Chart } from './chart'

const ROW = 26
const NAMES = 200
const NUMBERS = 60
const WIDTH = 400

export interface SharedBar {
  readonly name: string
  /** 0 to 1 */
  readonly share: number
  /** Drawn hollow: what one would rather not see. */
  readonly hollow?: boolean
}

/** Shares as bars, each with its name and its number. */
export function ShareBars({ title, file, bars }: { title: string; file: string; bars: readonly SharedBar[] }) {
  const x = scaleLinear([0, 1], [0, WIDTH - NAMES - NUMBERS])
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`
  return (
    <Chart
      title={title}
      file={file}
      width={WIDTH}
      height={bars.length * ROW + 4}
      says={bars.map(({ name, share }) => `${name}: ${percent(share)}`).join('; ')}
    >
      {bars.map(({ name, share, hollow }, at) => (
        <g key={name} transform={`translate(0 ${at * ROW})`}>
          <text x={NAMES - 10} y={ROW / 2 + 4} textAnchor="end">
            {shortened(name)}
            <title>{name}</title>
          </text>
          <rect
            x={NAMES}
            y="5"
            width={Math.max(1, x(share))}
            height={ROW - 10}
            fill={hollow ? 'none' : 'currentColor'}
            fillOpacity="0.72"
            stroke="currentColor"
            strokeWidth="1"
          />
          <text x={NAMES + x(share) + 8} y={ROW / 2 + 4}>
            {percent(share)}
          </text>
        </g>
      ))}
      <line x1={NAMES} x2={NAMES} y1="0" y2={bars.length * ROW} stroke="currentColor" />
    </Chart>
  )
}

const LETTERS = 28

function shortened(name: string): string {
  return name.length <= LETTERS ? name : `${name.slice(0, LETTERS - 1)}…`
}
