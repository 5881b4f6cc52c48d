import { NextResponse } from 'next/server'
import { handler, refuse } from '../../../../server/answers'

export const POST = handler<{ id: string }>('own', async ({ store, params: { id }, doer }) =>
  (await store.ask('restore', id, doer))
    ? NextResponse.json({ id })
    : refuse(404, 'There is no such story to bring back.'),
)
