import type { FlowGraph } from './flow-graph'
import type { Slots } from './slots'

/** By beat: 1 where it names one of some slots. */
export function beatsThatRead(roads: FlowGraph, slots: Slots, some: readonly number[]): Uint8Array {
  if (some.length === 0) return new Uint8Array(roads.summaries.length)
  const wanted = new Set(some)
  return Uint8Array.from(roads.summaries, ({ variables }) =>
    variables.some((variable) => wanted.has(slots.ofVariable[variable]!)) ? 1 : 0,
  )
}
