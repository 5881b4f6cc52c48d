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

/** The spread of numbers in rising order; of none, undefined. Quartiles are values that occur (nearest rank). */
export function spreadOf(sorted: ArrayLike<number>): Spread | undefined {
  const { length } = sorted
  if (length === 0) return undefined
  let sum = 0
  for (let at = 0; at < length; at += 1) sum += sorted[at]!
  const rank = (part: number) => sorted[Math.max(0, Math.ceil(part * length) - 1)]!
  return {
    least: sorted[0]!,
    lowerQuartile: rank(0.25),
    median: rank(0.5),
    upperQuartile: rank(0.75),
    most: sorted[length - 1]!,
    mean: sum / length,
  }
}

/** The spread of counted whole numbers: `counts[i]` is how often `from + i` was seen. */
export function spreadOfCounts(
  counts: ArrayLike<number>,
  from: number,
): (Spread & { readonly plays: number }) | undefined {
  let plays = 0
  let sum = 0
  for (let at = 0; at < counts.length; at += 1) {
    plays += counts[at]!
    sum += counts[at]! * (from + at)
  }
  if (plays === 0) return undefined
  const rank = (part: number) => {
    const wanted = Math.max(1, Math.ceil(part * plays))
    let seen = 0
    for (let at = 0; ; at += 1) {
      seen += counts[at]!
      if (seen >= wanted) return from + at
    }
  }
  return {
    plays,
    least: rank(0),
    lowerQuartile: rank(0.25),
    median: rank(0.5),
    upperQuartile: rank(0.75),
    most: rank(1),
    mean: sum / plays,
  }
}

/** Bars of one width, a whole number, over numbers in rising order. */
export function barsOf(sorted: ArrayLike<number>): Bar[] {
  if (sorted.length === 0) return []
  const least = sorted[0]!
  const span = sorted[sorted.length - 1]! - least + 1
  const width = Math.ceil(span / Math.min(BARS_MAX, span))
  const plays = new Array<number>(Math.ceil(span / width)).fill(0)
  for (let at = 0; at < sorted.length; at += 1) plays[Math.floor((sorted[at]! - least) / width)]! += 1
  return plays.map((count, at) => ({ from: least + at * width, to: least + (at + 1) * width, plays: count }))
}
