import { NextResponse } from 'next/server'
import { refuse } from '../../../../server/answers'
import { store } from '../../../../server/store'

/** The steps of a story's history before a revision, and its named versions. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const before = new URL(request.url).searchParams.get('before')
  if (before !== null && !/^\d{1,15}$/.test(before)) return refuse(400, 'before: a number is expected')
  const history = await stories.history((await params).id, before === null ? undefined : Number(before))
  return history === undefined
    ? refuse(404, 'There is no story at this address; it may have been deleted.')
    : NextResponse.json(history)
}
