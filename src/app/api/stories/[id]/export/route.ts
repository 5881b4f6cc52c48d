import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile } from '../../../../server/asked'

export const GET = handler<{ id: string }>('read', async ({ store, params }) => {
  const written = await store.ask('exportText', params.id)
  if (written === undefined) return refuse(404, NO_STORY)
  return new Response(written.text, {
    headers: { 'Content-Type': 'application/json; charset=utf-8', ...asFile(written.title, params.id, '.story.json') },
  })
})
