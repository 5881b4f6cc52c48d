import { each, type Adjacency } from './adjacency'
import type { FlowGraph } from './flow-graph'
import { Worklist } from './worklist'

/**
 * Tells of all beats at which a decision may come to a beat before the story rests again. Beats that are `entered` are
 * not looked at, and what is looked at is added to them.
 */
export function beatsBefore(
  { sources, redirects, onward }: FlowGraph,
  beat: number,
  entered: Set<number>,
  hear: (source: number) => void,
): void {
  const work = [beat]
  for (let target = work.pop(); target !== undefined; target = work.pop()) {
    if (entered.has(target)) continue
    entered.add(target)
    each(sources, target, (source) => {
      hear(source)
      if (leads(redirects, source, target) || leads(onward, source, target)) work.push(source)
    })
  }
}

function leads({ first, beats }: Adjacency, from: number, to: number): boolean {
  for (let at = first[from]!; at < first[from + 1]!; at += 1) if (beats[at] === to) return true
  return false
}

/** By beat: 1 where a decision taken there may come, before the story rests again, to one of some beats, or is taken at one. */
export function beatsThatTouch(roads: FlowGraph, some: Uint8Array): Uint8Array {
  // beats on coming into which, with what follows by itself, one of them is come to
  const entered = some.slice()
  const work = new Worklist(roads.order.toReversed())
  work.addAll()
  const leadsThere = ({ first, beats }: Adjacency, beat: number) => {
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) if (entered[beats[at]!] === 1) return true
    return false
  }
  for (let beat = work.take(); beat !== -1; beat = work.take()) {
    if (entered[beat] === 1 || !(leadsThere(roads.redirects, beat) || leadsThere(roads.onward, beat))) continue
    entered[beat] = 1
    const { first, beats } = roads.sources
    for (let at = first[beat]!; at < first[beat + 1]!; at += 1) work.add(beats[at]!)
  }
  return some.map((own, beat) =>
    own === 1 || leadsThere(roads.choices, beat) || leadsThere(roads.onward, beat) ? 1 : 0,
  )
}
