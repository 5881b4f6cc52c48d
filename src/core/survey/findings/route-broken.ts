import { routeTrouble } from '../../play/replay'
import type { LinkedStory } from '../../story/linked'
import { finding, type Finding } from '../result'

/** Kept routes that no longer play, or no longer come to what was expected; the route is the part that plays. */
export function brokenRoutes(story: LinkedStory): Finding[] {
  return story.routes.flatMap((route) => {
    const trouble = routeTrouble(story, route)
    return trouble === undefined ? [] : [finding('route-broken', [route.id], trouble.message, trouble.plays)]
  })
}
