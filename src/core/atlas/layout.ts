import { NO_BEAT, UNDECIDED, type Roads } from '../story/roads'

export interface LayoutInput {
  /** The band of each beat: its scene's index. */
  readonly bandOf: Int32Array
  readonly bands: number
  /** Decisions to each beat, UNREACHED or UNDECIDED. */
  readonly distances: Int32Array
  /** Index of the first beat; −1 where there is none. */
  readonly start: number
  readonly roads: Roads
}

/** Why beats are on no route: nothing leads to them, a road that no route takes, or only others that are unreached. */
export interface MarginGroup {
  readonly band: number
  /** The road that keeps the player out; −1: no road leads here. */
  readonly road: number
  readonly beats: readonly number[]
}

export interface Layout {
  /** The column of each beat: decisions from the start, or of the margin, counted from 0 again. */
  readonly column: Int32Array
  /** Its place within its column and band, from above. */
  readonly row: Int32Array
  /** 1 where the column is the distance by roads alone. */
  readonly byRoads: Uint8Array
  /** 1 where it stands in the margin of its band. */
  readonly inMargin: Uint8Array
  readonly groups: readonly MarginGroup[]
  /** Rows and, of the margin, columns that each band needs. */
  readonly rows: Int32Array
  readonly marginColumns: Int32Array
  /** Columns from the start on. */
  readonly columns: number
}

/** So often the order is gone through, forward and backward in turn. */
const SWEEPS = 4

/**
 * Places every beat of a story: across by its distance, which is given, so that of the layered drawing of Sugiyama,
 * Tagawa and Toda (1981) only the ordering step is left: beats of one column and band are ordered by the mean place of
 * their neighbours, a few times there and back, those without any and ties as in the document. Deterministic; an edit
 * moves what it touches, as nothing is centred or packed anew.
 */
export function layOut({ bandOf, bands, distances, start, roads }: LayoutInput): Layout {
  const beats = bandOf.length
  const [out, into] = [adjacency(beats, roads.from, roads), adjacency(beats, roads.to, roads)]
  const walked = roadDistances(beats, start, roads, out)
  const column = new Int32Array(beats)
  const byRoads = new Uint8Array(beats)
  const inMargin = new Uint8Array(beats)
  let columns = 0
  for (let beat = 0; beat < beats; beat += 1) {
    const distance = distances[beat] === UNDECIDED ? walked[beat]! : distances[beat]!
    if (distance < 0) inMargin[beat] = 1
    else {
      column[beat] = distance
      byRoads[beat] = distances[beat] === UNDECIDED ? 1 : 0
      columns = Math.max(columns, distance + 1)
    }
  }
  const cells = cellsOf(bandOf, bands, column, inMargin, columns)
  const row = new Int32Array(beats)
  const rows = new Int32Array(bands)
  for (const { band, members } of cells) {
    members.forEach((beat, at) => (row[beat] = at))
    rows[band] = Math.max(rows[band]!, members.length)
  }
  for (let sweep = 0; sweep < SWEEPS; sweep += 1) {
    const isForward = sweep % 2 === 0
    const neighbours = isForward ? into : out
    for (let at = 0; at < cells.length; at += 1)
      orderCell(
        cells[isForward ? at : cells.length - 1 - at]!,
        row,
        column,
        rows,
        bandOf,
        inMargin,
        neighbours,
        isForward,
      )
  }
  const groups = marginGroups(bandOf, bands, inMargin, roads, out, into)
  const marginColumns = placeMargins(groups, rows, column, row)
  return { column, row, byRoads, inMargin, groups, rows, marginColumns, columns }
}

interface Cell {
  readonly band: number
  readonly members: number[]
}

/** The beats of each column and band, columns from the start on, in the document's order. */
function cellsOf(bandOf: Int32Array, bands: number, column: Int32Array, inMargin: Uint8Array, columns: number): Cell[] {
  const byName = new Map<number, Cell>()
  for (let beat = 0; beat < bandOf.length; beat += 1) {
    if (inMargin[beat] === 1) continue
    const name = column[beat]! * bands + bandOf[beat]!
    const cell = byName.get(name)
    if (cell === undefined) byName.set(name, { band: bandOf[beat]!, members: [beat] })
    else cell.members.push(beat)
  }
  const names = [...byName.keys()].sort((a, b) => a - b)
  return columns === 0 ? [] : names.map((name) => byName.get(name)!)
}

interface Adjacency {
  readonly first: Int32Array
  /** The road of each place in the list. */
  readonly roads: Int32Array
  readonly others: Int32Array
}

/** The roads at each beat, by `ends`. */
function adjacency(beats: number, ends: Int32Array, { count, from, to }: Roads): Adjacency {
  const first = new Int32Array(beats + 1)
  const isWhole = (road: number) => to[road] !== NO_BEAT
  for (let road = 0; road < count; road += 1) if (isWhole(road)) first[ends[road]! + 1]! += 1
  for (let beat = 0; beat < beats; beat += 1) first[beat + 1]! += first[beat]!
  const next = first.slice(0, beats)
  const list = new Int32Array(first[beats]!)
  const others = new Int32Array(first[beats]!)
  for (let road = 0; road < count; road += 1) {
    if (!isWhole(road)) continue
    const at = next[ends[road]!]!
    next[ends[road]!] = at + 1
    list[at] = road
    others[at] = ends === from ? to[road]! : from[road]!
  }
  return { first, roads: list, others }
}

/** Decisions to each beat if every gate were open; −1 where no roads lead to it. Breadth first, roads that take no decision first. */
function roadDistances(beats: number, start: number, { decides }: Roads, out: Adjacency): Int32Array {
  const distance = new Int32Array(beats).fill(-1)
  if (start < 0) return distance
  let level = [start]
  for (let depth = 0; level.length > 0; depth += 1) {
    const next: number[] = []
    while (level.length > 0) {
      const beat = level.pop()!
      if (distance[beat] !== -1) continue
      distance[beat] = depth
      for (let at = out.first[beat]!; at < out.first[beat + 1]!; at += 1) {
        const other = out.others[at]!
        if (distance[other] === -1) (decides[out.roads[at]!] === 1 ? next : level).push(other)
      }
    }
    level = next
  }
  return distance
}

/** Orders one cell by the mean place of the neighbours on one side; those in bands above or below draw to that edge. */
function orderCell(
  { band, members }: Cell,
  row: Int32Array,
  column: Int32Array,
  rows: Int32Array,
  bandOf: Int32Array,
  inMargin: Uint8Array,
  neighbours: Adjacency,
  isForward: boolean,
): void {
  if (members.length < 2) return
  const keys = new Map<number, number>()
  for (const beat of members) {
    let sum = 0
    let count = 0
    for (let at = neighbours.first[beat]!; at < neighbours.first[beat + 1]!; at += 1) {
      const other = neighbours.others[at]!
      if (inMargin[other] === 1) continue
      if (isForward ? column[other]! >= column[beat]! : column[other]! <= column[beat]!) continue
      const there = bandOf[other]!
      sum += there === band ? row[other]! : there < band ? -1 : rows[band]!
      count += 1
    }
    keys.set(beat, count === 0 ? row[beat]! : sum / count)
  }
  members.sort((a, b) => keys.get(a)! - keys.get(b)! || row[a]! - row[b]!)
  members.forEach((beat, at) => (row[beat] = at))
}

/** Unreached beats of each band by what keeps the player out: a road from a reached beat, or none at all. */
function marginGroups(
  bandOf: Int32Array,
  bands: number,
  inMargin: Uint8Array,
  roads: Roads,
  out: Adjacency,
  into: Adjacency,
): MarginGroup[] {
  const cause = new Map<number, number>()
  let level: number[] = []
  const note = (beat: number, road: number) => {
    if (cause.has(beat)) return
    cause.set(beat, road)
    level.push(beat)
  }
  for (let beat = 0; beat < bandOf.length; beat += 1) {
    if (inMargin[beat] === 0) continue
    let barred = -1
    let isAlone = true
    for (let at = into.first[beat]!; at < into.first[beat + 1]!; at += 1) {
      if (into.others[at] !== beat) isAlone = false
      if (inMargin[into.others[at]!] === 0 && barred === -1) barred = into.roads[at]!
    }
    if (barred !== -1 || isAlone) note(beat, barred)
  }
  const spread = () => {
    while (level.length > 0) {
      const now = level
      level = []
      for (const beat of now)
        for (let at = out.first[beat]!; at < out.first[beat + 1]!; at += 1)
          if (inMargin[out.others[at]!] === 1) note(out.others[at]!, cause.get(beat)!)
    }
  }
  spread()
  // rings of unreached beats that nothing leads into
  for (let beat = 0; beat < bandOf.length; beat += 1) {
    if (inMargin[beat] === 0 || cause.has(beat)) continue
    note(beat, -1)
    spread()
  }
  const groups = new Map<string, { band: number; road: number; beats: number[] }>()
  for (const [beat, road] of [...cause].sort(([a], [b]) => a - b)) {
    const name = `${bandOf[beat]} ${road}`
    const group = groups.get(name)
    if (group === undefined) groups.set(name, { band: bandOf[beat]!, road, beats: [beat] })
    else group.beats.push(beat)
  }
  return [...groups.values()].sort((a, b) => a.band - b.band)
}

/** Rows of a margin at least, so that a flat band does not make a long one. */
const MARGIN_ROWS = 6

/** Sets the groups beneath each other in the margin of their band, each under a heading of one row. */
function placeMargins(
  groups: readonly MarginGroup[],
  rows: Int32Array,
  column: Int32Array,
  row: Int32Array,
): Int32Array {
  const columns = new Int32Array(rows.length)
  const high = rows.map((count) => Math.max(count, MARGIN_ROWS))
  const at = new Map<number, { column: number; row: number }>()
  for (const { band, beats } of groups) {
    let place = at.get(band) ?? { column: 0, row: 0 }
    // a heading does not stand alone at the foot of a column
    if (place.row > 0 && place.row + 2 > high[band]!) place = { column: place.column + 1, row: 0 }
    place = { ...place, row: place.row + 1 }
    for (const beat of beats) {
      if (place.row >= high[band]!) place = { column: place.column + 1, row: 1 }
      column[beat] = place.column
      row[beat] = place.row
      place = { ...place, row: place.row + 1 }
      rows[band] = Math.max(rows[band]!, place.row)
    }
    at.set(band, place)
    columns[band] = place.column + 1
  }
  return columns
}
