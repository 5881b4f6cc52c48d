import { NextResponse } from 'next/server'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

/** The steps of a story's history before a revision, and its named versions. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params }) => {
  const before = new URL(request.url).searchParams.get('before')
  if (before !== null && !/^\d{1,15}$/.test(before)) return refuse(400, 'before: a number is expected')
  const history = await store.ask('history', params.id, before === null ? undefined : Number(before))
  return history === undefined ? refuse(404, NO_STORY) : NextResponse.json(history)
})
