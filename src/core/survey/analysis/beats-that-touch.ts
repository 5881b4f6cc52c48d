import type { Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import { Worklist } from './worklist'

/** By beat: 1 where a decision taken there may come, before the story rests again, to one of some beats, or is taken at one. */
export function beatsThatTouch(roads: FlowGraph, some: Uint8Array): Uint8Array {
  // beats on coming into which, with what follows by itself, one of them is come to
  const entered = some.slice()
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
  return some.map((own, beat) => (own === 1 || leads(roads.choices, beat) || leads(roads.onward, beat) ? 1 : 0))
}
