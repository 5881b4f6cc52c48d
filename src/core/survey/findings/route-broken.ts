import { routeTrouble } from '../../play/replay'
import type { LinkedStory } from '../../story/linked'
import { finding, lazyRoute, type Found } from './finding'

/** Kept routes that no longer play, or no longer come to what was expected; the route is the part that plays. */
export function brokenRoutes(story: LinkedStory): Found[] {
  return story.routes.flatMap((route) => {
    const trouble = routeTrouble(story, route)
    return trouble === undefined ? [] : [finding('route-broken', [route.id], trouble.message, lazyRoute(trouble.plays))]
  })
}
