import * as z from 'zod'
import { writeSurveyJson } from '../../../../../core/formats/survey-json/write'
import { handler, jsonText, NO_STORY, refuse } from '../../../../server/answers'
import { secondsIn } from '../../../../server/asked'
import { surveyed } from '../../../../server/story-of'
import { keptStory } from '../../../../../store/kept-story'

const routesAsked = z.enum(['all', 'ends', 'none'])

/** What the survey decides of a story as it is kept now: the same JSON as the command line prints. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const routes = routesAsked.safeParse(asked.get('routes') ?? 'ends')
  if (!routes.success) return refuse(400, 'routes: one of all, ends, none is expected')
  const seconds = secondsIn(asked)
  if (!seconds.ok) return seconds.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const result = await surveyed(kept.linked, seconds.value, { routes: routes.data })
  return jsonText([...writeSurveyJson(result)].join(''))
})
