import { NextResponse } from 'next/server'
import { visitedSchema } from '../../../../../core/contract/comments'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

/** Notes which revision one has seen, for what is told when one comes again. */
export const POST = memberHandler<{ id: string }>('read', async ({ request, store, params, doer }) => {
  const read = await readBody(request, visitedSchema)
  if (!read.ok) return read.error
  await store.ask('visited', params.id, doer.id, read.value.revision)
  return NextResponse.json({})
})
