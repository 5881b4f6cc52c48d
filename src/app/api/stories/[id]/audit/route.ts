import { NextResponse } from 'next/server'
import { memberHandler } from '../../../../server/members'

/** Who did what to a story and the roles in it, the latest hundred. */
export const GET = memberHandler<{ id: string }>('own', async ({ store, params }) =>
  NextResponse.json(await store.ask('deeds', undefined, params.id)),
)
