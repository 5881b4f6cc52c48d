import { NextResponse } from 'next/server'
import { handler, refuse } from '../../../../server/answers'

export const POST = handler<{ id: string }>(async ({ store, params: { id } }) =>
  (await store.ask('restore', id)) ? NextResponse.json({ id }) : refuse(404, 'There is no such story to bring back.'),
)
