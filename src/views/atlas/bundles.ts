import { COLUMN, isReturn, type Picture } from '../../core/atlas/picture'
import { NO_BEAT } from '../../core/story/roads'

/** Roads that lead from one place to another, places being some columns of one band. */
export interface Bundle {
  readonly fromX: number
  readonly fromY: number
  readonly toX: number
  readonly toY: number
  readonly count: number
}

const known = new WeakMap<Picture, Map<number, readonly Bundle[]>>()

/** The roads of a picture in bundles, the largest first; `columns`: so many are one place. */
export function bundlesOf(picture: Picture, columns: number): readonly Bundle[] {
  let of = known.get(picture)
  if (of === undefined) known.set(picture, (of = new Map()))
  // places that double, so that a few sizes serve every scale
  const size = 2 ** Math.ceil(Math.log2(columns))
  let bundles = of.get(size)
  if (bundles === undefined) of.set(size, (bundles = bundled(picture, size)))
  return bundles
}

function bundled(picture: Picture, size: number): readonly Bundle[] {
  const { chart, bandTop, bandHeight } = picture
  const { roads, bandOf, column, inMargin, scenes, columns } = chart
  const wide = Math.ceil((columns + 1) / size)
  const placeOf = (beat: number) =>
    inMargin[beat] === 1 ? undefined : bandOf[beat]! * wide + Math.floor(column[beat]! / size)
  const counts = new Map<number, number>()
  const places = scenes.length * wide
  for (let road = 0; road < roads.count; road += 1) {
    if (roads.to[road] === NO_BEAT || isReturn(roads, road)) continue
    const [from, to] = [placeOf(roads.from[road]!), placeOf(roads.to[road]!)]
    if (from === undefined || to === undefined || from === to) continue
    const name = from * places + to
    counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  const middle = (place: number): readonly [number, number] => {
    const band = Math.floor(place / wide)
    return [((place % wide) + 0.5) * size * COLUMN, bandTop[band]! + bandHeight[band]! / 2]
  }
  return [...counts]
    .sort(([a, many], [b, more]) => more - many || a - b)
    .map(([name, count]) => {
      const [fromX, fromY] = middle(Math.floor(name / places))
      const [toX, toY] = middle(name % places)
      return { fromX, fromY, toX, toY, count }
    })
}
