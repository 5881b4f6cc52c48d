/** What a number was over many playthroughs. */
export interface Spread {
  readonly least: number
  readonly lowerQuartile: number
  readonly median: number
  readonly upperQuartile: number
  readonly most: number
  readonly mean: number
}

/** One bar of a histogram: `from` counts, `to` does not. */
export interface Bar {
  readonly from: number
  readonly to: number
  readonly plays: number
}

const BARS_MAX = 30

/** How often which numbers came, in rising order. */
export type Counted = readonly (readonly [number: number, times: number])[]

export function counted(numbers: Iterable<number>): Counted {
  const times = new Map<number, number>()
  for (const number of numbers) times.set(number, (times.get(number) ?? 0) + 1)
  return [...times].sort(([a], [b]) => a - b)
}

export function timesOf(numbers: Counted): number {
  return numbers.reduce((sum, [, times]) => sum + times, 0)
}

/** The spread of counted numbers; of none, undefined. Quartiles are values that occur (nearest rank). */
export function spreadOf(numbers: Counted): Spread | undefined {
  const plays = timesOf(numbers)
  if (plays === 0) return undefined
  const sum = numbers.reduce((sum, [number, times]) => sum + number * times, 0)
  const rank = (part: number) => {
    const wanted = Math.max(1, Math.ceil(part * plays))
    let seen = 0
    for (const [number, times] of numbers) {
      seen += times
      if (seen >= wanted) return number
    }
    return numbers.at(-1)![0]
  }
  return {
    least: rank(0),
    lowerQuartile: rank(0.25),
    median: rank(0.5),
    upperQuartile: rank(0.75),
    most: rank(1),
    mean: sum / plays,
  }
}

/** Bars of one width, a whole number, over counted whole numbers. */
export function barsOf(numbers: Counted): Bar[] {
  if (numbers.length === 0) return []
  const least = numbers[0]![0]
  const span = numbers.at(-1)![0] - least + 1
  const width = Math.ceil(span / Math.min(BARS_MAX, span))
  const plays = new Array<number>(Math.ceil(span / width)).fill(0)
  for (const [number, times] of numbers) plays[Math.floor((number - least) / width)]! += times
  return plays.map((count, at) => ({ from: least + at * width, to: least + (at + 1) * width, plays: count }))
}
