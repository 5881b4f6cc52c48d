import { handler, NO_STORY, refuse } from '../../../server/answers'
import { pageOf } from '../../../server/story-of'
import { keptStory } from '../../../../store/kept-story'

/** The same page, opened here: its own policy stands in it, and is stricter than this application's. */
export const GET = handler<{ id: string }>('read', async ({ store, params: { id } }) => {
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const text = await pageOf(kept, false, 1)
  return new Response(text, {
    headers: {
      'Content-Type': 'text/html; charset=utf-8',
      'Cache-Control': 'no-store',
    },
  })
})
