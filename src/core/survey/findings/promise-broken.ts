import type { SurveyContext } from '../context'
import { finding, wayOfRoute, type Found } from '../result'

export function brokenPromises({ story, promises }: SurveyContext): Found[] {
  return story.promises.flatMap(({ id, promise }) => {
    const verdict = promises[id]
    if (verdict?.verdict !== 'broken') return []
    const message = promise.kind === 'possible' ? 'no route comes to what this promises' : 'a route breaks this promise'
    return [finding('promise-broken', [id], message, verdict.route && wayOfRoute(verdict.route))]
  })
}
