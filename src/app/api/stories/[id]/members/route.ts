import { NextResponse } from 'next/server'
import { givenRoleSchema } from '../../../../../core/contract/access'
import { refuse } from '../../../../server/answers'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

/** Who works on a story. */
export const GET = memberHandler<Params>('read', async ({ store, params }) =>
  NextResponse.json(await store.ask('storyMembers', params.id)),
)

/** Gives a member a role in a story, or takes it. */
export const POST = memberHandler<Params>('own', async ({ request, store, params, doer }) => {
  const read = await readBody(request, givenRoleSchema)
  if (!read.ok) return read.error
  const trouble = await store.ask('setRole', doer, params.id, read.value.member, read.value.role)
  return trouble === undefined ? NextResponse.json({}) : refuse(409, trouble)
})
