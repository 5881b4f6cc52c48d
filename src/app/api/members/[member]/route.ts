import { NextResponse } from 'next/server'
import { ownerSchema } from '../../../../core/contract/access'
import { refuse } from '../../../server/answers'
import { memberHandler } from '../../../server/members'
import { readBody } from '../../../server/request'

type Params = { readonly member: string }

/** Makes a member one who looks after the server, or no longer. */
export const POST = memberHandler<Params>('steward', async ({ request, params, doer, store }) => {
  const read = await readBody(request, ownerSchema)
  if (!read.ok) return read.error
  const trouble = await store.ask('setOwner', doer, params.member, read.value.isOwner)
  return trouble === undefined ? NextResponse.json({}) : refuse(409, trouble)
})

/** Lets a member go. */
export const DELETE = memberHandler<Params>('steward', async ({ params, doer, store }) => {
  const trouble = await store.ask('leave', doer, params.member)
  return trouble === undefined ? NextResponse.json({}) : refuse(409, trouble)
})
