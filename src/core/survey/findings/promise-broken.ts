import type { SurveyContext } from '../context'
import { finding, type Finding } from '../result'

export function brokenPromises({ story, promises }: SurveyContext): Finding[] {
  return story.promises.flatMap(({ id, promise }) => {
    const verdict = promises[id]
    if (verdict?.verdict !== 'broken') return []
    const message = promise.kind === 'possible' ? 'no route comes to what this promises' : 'a route breaks this promise'
    return [finding('promise-broken', [id], message, verdict.route)]
  })
}
