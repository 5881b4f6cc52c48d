import { NextResponse } from 'next/server'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

export const POST = handler<{ id: string }>(async ({ store, params }) => {
  const id = await store.ask('duplicate', params.id)
  return id === undefined ? refuse(404, NO_STORY) : NextResponse.json({ id })
})
