import { NextResponse } from 'next/server'
import { hereSchema, type Presence } from '../../../../../core/contract/comments'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

/** Says to the others in which beat one is; nothing of it is kept. */
export const POST = memberHandler<{ id: string }>('read', async ({ request, store, params, doer }) => {
  const read = await readBody(request, hereSchema)
  if (!read.ok) return read.error
  const told: Presence = { ...read.value, member: doer.id, name: doer.name }
  await store.ask('tellHere', params.id, JSON.stringify(told))
  return NextResponse.json({})
})
