import { NextResponse } from 'next/server'
import { mayMake, NOT_MAKE } from '../../../../../accounts/seat'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

export const POST = handler<{ id: string }>('read', async ({ store, params, seat, doer }) => {
  if (!mayMake(seat)) return refuse(403, NOT_MAKE)
  const id = await store.ask('duplicate', params.id, doer)
  return id === undefined ? refuse(404, NO_STORY) : NextResponse.json({ id })
})
