import { NextResponse } from 'next/server'
import { refuse } from '../../../../server/answers'
import { store } from '../../../../server/store'

/** Everything in a story that has all the words of `q`. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const text = new URL(request.url).searchParams.get('q') ?? ''
  const hits = await stories.search((await params).id, text.slice(0, 500))
  return hits === undefined
    ? refuse(404, 'There is no story at this address; it may have been deleted.')
    : NextResponse.json(hits)
}
