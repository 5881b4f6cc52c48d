import { scaleLinear } from 'd3-scale'
import { Chart } from './chart'

const ROW = 26
const LINE = 15
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
  const rows = bars.map((bar) => ({ ...bar, lines: inLines(bar.name) }))
  const heights = rows.map(({ lines }) => Math.max(ROW, lines.length * LINE + 8))
  const tops = heights.map((_, at) => heights.slice(0, at).reduce((sum, one) => sum + one, 0))
  const height = heights.reduce((sum, one) => sum + one, 0)
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`
  return (
    <Chart
      title={title}
      file={file}
      width={WIDTH}
      height={height + 4}
      says={bars.map(({ name, share }) => `${name}: ${percent(share)}`).join('; ')}
    >
      {rows.map(({ name, share, hollow, lines }, at) => (
        <g key={name} transform={`translate(0 ${tops[at]! + (heights[at]! - ROW) / 2})`}>
          {lines.map((line, index) => (
            <text key={index} x={NAMES - 10} y={ROW / 2 + 4 + (index - (lines.length - 1) / 2) * LINE} textAnchor="end">
              {line}
            </text>
          ))}
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
      <line x1={NAMES} x2={NAMES} y1="0" y2={height} stroke="currentColor" />
    </Chart>
  )
}

const LETTERS = 28

/** A name in as many lines as it takes; a word that is longer than a line is divided. */
function inLines(name: string): string[] {
  const lines: string[] = []
  let line = ''
  for (const word of name.split(/\s+/).flatMap((one) => one.match(new RegExp(`.{1,${LETTERS}}`, 'gu')) ?? [])) {
    if (line !== '' && line.length + 1 + word.length > LETTERS) {
      lines.push(line)
      line = word
    } else line = line === '' ? word : `${line} ${word}`
  }
  return [...lines, line]
}
