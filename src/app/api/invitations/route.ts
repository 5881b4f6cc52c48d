import { NextResponse } from 'next/server'
import { newInvitationSchema } from '../../../core/contract/access'
import { refuse } from '../../server/answers'
import { memberHandler } from '../../server/members'
import { readBody } from '../../server/request'

/** Links that were made and not used yet. */
export const GET = memberHandler('steward', async ({ store }) => NextResponse.json(await store.ask('invitations')))

/** A link by which somebody comes in, or sets a new password. */
export const POST = memberHandler('steward', async ({ request, doer, store }) => {
  const read = await readBody(request, newInvitationSchema)
  if (!read.ok) return read.error
  if (read.value.kind === 'password' && (await store.ask('find', read.value.member)) === undefined)
    return refuse(404, 'There is no such member.')
  return NextResponse.json({ key: await store.ask('invite', doer, read.value) })
})
