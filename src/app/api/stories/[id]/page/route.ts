import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile, leaving } from '../../../../server/asked'
import { pageOf } from '../../../../server/story-of'
import { keptStory } from '../../../../../store/kept-story'

/** A page that plays a story from one file, to be kept. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = leaving(request)
  if (!asked.ok) return asked.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const text = await pageOf(kept, asked.value.without, asked.value.seconds)
  return new Response(text, {
    headers: { 'Content-Type': 'text/html; charset=utf-8', ...asFile(kept.linked.doc.title, id, '.html') },
  })
})
