import type { BeatSummary } from '../summaries/beat-summary'
import type { FlowGraph } from './flow-graph'
import type { Slots } from './slots'

/** By beat: 1 where it names one of some slots. */
export function beatsThatRead(roads: FlowGraph, slots: Slots, some: readonly number[]): Uint8Array {
  if (some.length === 0) return new Uint8Array(roads.summaries.length)
  const wanted = new Set(some)
  return Uint8Array.from(roads.summaries, (summary) => (namesSome(summary, slots, wanted) ? 1 : 0))
}

/** Whether a beat names one of some slots. */
export function namesSome({ variables }: BeatSummary, { ofVariable }: Slots, some: ReadonlySet<number>): boolean {
  return variables.some((variable) => some.has(ofVariable[variable]!))
}
