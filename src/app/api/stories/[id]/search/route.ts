import { NextResponse } from 'next/server'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

/** Everything in a story that has all the words of `q`. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params }) => {
  const text = new URL(request.url).searchParams.get('q') ?? ''
  const hits = await store.ask('search', params.id, text.slice(0, 500))
  return hits === undefined ? refuse(404, NO_STORY) : NextResponse.json(hits)
})
