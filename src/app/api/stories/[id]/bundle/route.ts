import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile, leaving } from '../../../../server/asked'
import { bundleOf } from '../../../../server/story-of'
import { keptStory } from '../../../../../store/kept-story'

/** A story as engines read it. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = leaving(request)
  if (!asked.ok) return asked.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const bundle = await bundleOf(kept, asked.value.without, asked.value.seconds)
  return new Response(JSON.stringify(bundle), {
    headers: { 'Content-Type': 'application/json; charset=utf-8', ...asFile(bundle.title, id, '.bundle.json') },
  })
})
