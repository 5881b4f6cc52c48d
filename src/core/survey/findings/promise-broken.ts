import type { Explored } from './exploration'
import { finding, lazyRoute, type Found } from './finding'

export function brokenPromises({ story, promises }: Explored): Found[] {
  return story.promises.flatMap(({ id, promise }) => {
    const verdict = promises[id]
    if (verdict?.verdict !== 'broken') return []
    const message = promise.kind === 'possible' ? 'no route comes to what this promises' : 'a route breaks this promise'
    return [finding('promise-broken', [id], message, verdict.route && lazyRoute(verdict.route))]
  })
}
