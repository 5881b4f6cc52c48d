import type { Change } from '../changes/types'
import type { Beat, Scene } from '../types'

/** The beats of a scene in the order in which the story comes to them from the first; what is not come to stays behind, as it stood. */
export function flowOrder(scene: Scene): string[] {
  const known = new Map(scene.beats.map((beat) => [beat.id, beat]))
  const order: string[] = []
  const seen = new Set<string>()
  const stack = scene.beats.map(({ id }) => id).reverse()
  while (stack.length > 0) {
    const id = stack.pop()!
    if (seen.has(id)) continue
    seen.add(id)
    order.push(id)
    const next = roadsOf(known.get(id)!).flatMap((to) =>
      to.startsWith(`${scene.id}.`) ? [to.slice(scene.id.length + 1)] : [],
    )
    for (const to of next.reverse()) if (known.has(to) && !seen.has(to)) stack.push(to)
  }
  return order
}

/** Where a beat leads, in the order in which it plays. */
export function roadsOf(beat: Beat): string[] {
  const rules = (list: readonly { readonly to: string }[] | undefined) => (list ?? []).map(({ to }) => to)
  return [
    ...rules(beat.redirects),
    ...(beat.choices ?? []).flatMap(({ to }) => (typeof to === 'string' ? [to] : rules(to))),
    ...rules(beat.onward),
  ]
}

/** One change that puts the beats of a scene in that order; undefined when they are. */
export function toFlowOrder(scene: Scene): Change | undefined {
  const now = scene.beats.map(({ id }) => id)
  const changes: Change[] = []
  flowOrder(scene).forEach((id, to) => {
    const at = now.indexOf(id)
    if (at === to) return
    now.splice(at, 1)
    now.splice(to, 0, id)
    changes.push({ op: 'move', in: { list: 'beats', scene: scene.id }, id, at, to })
  })
  return changes.length === 0 ? undefined : { op: 'batch', changes }
}
