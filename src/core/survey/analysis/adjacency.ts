/** Targets by beat: those of beat b from `first[b]` to `first[b + 1]`. */
export interface Adjacency {
  readonly first: Int32Array
  readonly beats: Int32Array
}

export function each({ first, beats }: Adjacency, row: number, hear: (target: number) => void): void {
  for (let at = first[row]!; at < first[row + 1]!; at += 1) hear(beats[at]!)
}

/** Whether a row is the same in both, in the same order. */
export function sameRow(a: Adjacency, b: Adjacency, row: number): boolean {
  const [start, other] = [a.first[row]!, b.first[row]!]
  const length = a.first[row + 1]! - start
  if (b.first[row + 1]! - other !== length) return false
  for (let at = 0; at < length; at += 1) if (a.beats[start + at] !== b.beats[other + at]) return false
  return true
}

/** The other way round: by target, the rows that have it, in their order. */
export function reversed(length: number, { first: starts, beats: targets }: Adjacency): Adjacency {
  const first = new Int32Array(length + 1)
  for (let at = 0; at < targets.length; at += 1) first[targets[at]! + 1]! += 1
  for (let row = 0; row < length; row += 1) first[row + 1]! += first[row]!
  const fill = first.slice(0, length)
  const beats = new Int32Array(first[length]!)
  for (let row = 0; row < starts.length - 1; row += 1) {
    for (let at = starts[row]!; at < starts[row + 1]!; at += 1) {
      const target = targets[at]!
      beats[fill[target]!] = row
      fill[target]! += 1
    }
  }
  return { first, beats }
}
