import type { Adjacency } from './adjacency'

/**
 * By beat a rank, so that no road leads to a lower rank, and beats that lead to one another share
 * theirs: the strongly connected components in topological order (Tarjan: Depth-first search and
 * linear graph algorithms, 1972).
 */
export function layersOf({ first: starts, beats: targets }: Adjacency): Int32Array {
  const length = starts.length - 1
  const component = new Int32Array(length).fill(-1)
  const index = new Int32Array(length)
  const low = new Int32Array(length)
  const next = new Int32Array(length)
  const path = new Int32Array(length)
  const open = new Int32Array(length)
  let counter = 0
  let components = 0
  let opened = 0
  for (let root = 0; root < length; root += 1) {
    if (index[root] !== 0) continue
    let height = 0
    path[height++] = root
    while (height > 0) {
      const beat = path[height - 1]!
      if (index[beat] === 0) {
        counter += 1
        index[beat] = counter
        low[beat] = counter
        next[beat] = starts[beat]!
        open[opened++] = beat
      }
      if (next[beat]! < starts[beat + 1]!) {
        const target = targets[next[beat]!]!
        next[beat]! += 1
        if (index[target] === 0) path[height++] = target
        else if (component[target] === -1 && index[target]! < low[beat]!) low[beat] = index[target]!
        continue
      }
      height -= 1
      if (height > 0 && low[beat]! < low[path[height - 1]!]!) low[path[height - 1]!] = low[beat]!
      if (low[beat] !== index[beat]) continue
      let member = -1
      while (member !== beat) {
        member = open[--opened]!
        component[member] = components
      }
      components += 1
    }
  }
  // components are finished last ones first
  return component.map((one) => components - 1 - one)
}
