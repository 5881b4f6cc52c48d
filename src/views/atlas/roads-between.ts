import type { Chart } from '../../core/atlas/chart'

/** The roads and beats of a walk, by the addresses of the beats passed in turn; between two beats the first road that joins them. */
export function roadsBetween(
  { beats, roads }: Chart,
  walk: readonly string[],
): { readonly roads: ReadonlySet<number>; readonly beats: ReadonlySet<number> } {
  const wanted = new Set(walk)
  const index = new Map<string, number>()
  beats.forEach((address, at) => wanted.has(address) && index.set(address, at))
  const steps = new Map<string, number>()
  const name = (from: number, to: number) => `${from} ${to}`
  const passed: number[] = walk.flatMap((address) => index.get(address) ?? [])
  passed.forEach((to, at) => at > 0 && steps.set(name(passed[at - 1]!, to), -1))
  for (let road = 0; road < roads.count; road += 1) {
    const step = name(roads.from[road]!, roads.to[road]!)
    if (steps.get(step) === -1) steps.set(step, road)
  }
  return { roads: new Set([...steps.values()].filter((road) => road !== -1)), beats: new Set(passed) }
}
