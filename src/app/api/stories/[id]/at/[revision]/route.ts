import { NextResponse } from 'next/server'
import { refuse } from '../../../../../server/answers'
import { store } from '../../../../../server/store'

/** The story as it was after a revision. */
export async function GET(_request: Request, { params }: { params: Promise<{ id: string; revision: string }> }) {
  const { id, revision } = await params
  const { stories } = await store()
  const story = /^\d{1,15}$/.test(revision) ? await stories.at(id, Number(revision)) : undefined
  return story === undefined ? refuse(404, 'The story was never at this point.') : NextResponse.json({ story })
}
