import type { Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import type { Slots } from './slots'
import { Worklist } from './worklist'

/** By beat: 1 where it names one of some slots. */
export function beatsThatRead(roads: FlowGraph, slots: Slots, some: readonly number[]): Uint8Array {
  const wanted = new Set(some)
  return Uint8Array.from(roads.summaries, ({ variables }) =>
    variables.some((variable) => wanted.has(slots.ofVariable[variable]!)) ? 1 : 0,
  )
}

/** By beat: 1 where a decision taken there may come, before the story rests again, to a beat that reads. */
export function beatsThatTouch(roads: FlowGraph, reads: Uint8Array): Uint8Array {
  // beats on coming into which something is read, with what follows by itself
  const entered = reads.slice()
  const work = new Worklist(roads.order.toReversed())
  work.addAll()
  const leads = ({ first, beats }: Adjacency, beat: number) => {
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) if (entered[beats[at]!] === 1) return true
    return false
  }
  for (let beat = work.take(); beat !== -1; beat = work.take()) {
    if (entered[beat] === 1 || !(leads(roads.redirects, beat) || leads(roads.onward, beat))) continue
    entered[beat] = 1
    const { first, beats } = roads.sources
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) work.add(beats[at]!)
  }
  return reads.map((own, beat) => (own === 1 || leads(roads.choices, beat) || leads(roads.onward, beat) ? 1 : 0))
}
