import { NextResponse } from 'next/server'
import { invitationIntoSchema } from '../../../../../core/contract/access'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

/** Links into a story that were not used yet. */
export const GET = memberHandler<Params>('own', async ({ store, params }) =>
  NextResponse.json(await store.ask('invitations', params.id)),
)

/** A link by which somebody gets a role in a story, and an account where they have none. */
export const POST = memberHandler<Params>('own', async ({ request, store, params, doer }) => {
  const read = await readBody(request, invitationIntoSchema)
  if (!read.ok) return read.error
  const key = await store.ask('invite', doer, { kind: 'join', ...read.value, story: params.id })
  return NextResponse.json({ key })
})
