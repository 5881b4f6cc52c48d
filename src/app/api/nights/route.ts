import { NextResponse } from 'next/server'
import { listedTo } from '../../../accounts/seat'
import { handler, refuse } from '../../server/answers'
import { nightsFor } from '../../server/nights'

/** What the latest survey of all stories said, of those that one may read. */
export const GET = handler('here', async ({ store, seat }) => NextResponse.json(await nightsFor(store, listedTo(seat))))

/** Begins a survey of all stories now. */
export const POST = handler('steward', async ({ store, doer }) => {
  const id = await store.ask('beginNight', doer?.id)
  return id === undefined ? refuse(409, 'All stories are being surveyed already.') : NextResponse.json({ id })
})
