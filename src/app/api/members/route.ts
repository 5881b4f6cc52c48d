import { NextResponse } from 'next/server'
import { memberHandler } from '../../server/members'

/** Who has an account here. */
export const GET = memberHandler('self', async ({ store }) => NextResponse.json(await store.ask('members')))
