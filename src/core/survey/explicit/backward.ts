import { NO_STATE, type Search } from './search'

/** Sweeps that are tried before predecessors are listed. */
const SWEEPS = 6

/**
 * Backward reachability for up to 32 properties at once: bit p of the result's word s is set when a
 * state with bit p in `seeds` can be reached from state s, s itself counting. `seeds` is changed
 * and returned. Breadth-first numbers mostly grow along transitions, so a sweep from the last
 * state to the first settles nearly everything; a worklist over predecessors settles the rest
 * in time linear in the transitions.
 */
export function canReach(search: Search, seeds: Uint32Array): Uint32Array {
  const { rows, edges, expanded } = search
  const row = rows.items
  const edge = edges.items
  for (let sweep = 0; sweep < SWEEPS; sweep += 1) {
    let changed = false
    for (let state = expanded - 1; state >= 0; state -= 1) {
      const end = search.rowEnd(state)
      const before = seeds[state]!
      let mask = before
      for (let at = row[state]!; at < end; at += 1) {
        const next = edge[at]!
        if (next !== NO_STATE) mask |= seeds[next]!
      }
      if (mask !== before) {
        seeds[state] = mask
        changed = true
      }
    }
    if (!changed) return seeds
  }
  return settleByPredecessors(search, seeds)
}

function settleByPredecessors(search: Search, masks: Uint32Array): Uint32Array {
  const { rows, edges, expanded, states } = search
  const first = new Uint32Array(states + 1)
  for (let at = 0; at < edges.length; at += 1) if (edges.items[at] !== NO_STATE) first[edges.items[at]! + 1]! += 1
  for (let state = 0; state < states; state += 1) first[state + 1]! += first[state]!
  const fill = first.slice(0, states)
  const sources = new Uint32Array(first[states]!)
  for (let state = 0; state < expanded; state += 1) {
    for (let at = rows.items[state]!; at < search.rowEnd(state); at += 1) {
      const next = edges.items[at]!
      if (next === NO_STATE) continue
      sources[fill[next]!] = state
      fill[next]! += 1
    }
  }
  const pending = new Uint8Array(states).fill(1)
  const stack = new Uint32Array(states)
  let height = 0
  for (let state = 0; state < states; state += 1) stack[height++] = state
  while (height > 0) {
    const state = stack[--height]!
    pending[state] = 0
    for (let at = first[state]!; at < first[state + 1]!; at += 1) {
      const source = sources[at]!
      const joined = (masks[source]! | masks[state]!) >>> 0
      if (joined === masks[source]) continue
      masks[source] = joined
      if (pending[source] === 0) {
        pending[source] = 1
        stack[height++] = source
      }
    }
  }
  return masks
}
