import { NextResponse } from 'next/server'
import { everyoneSchema } from '../../../../../core/contract/access'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

/** What everybody here may do with a story from now on. */
export const POST = memberHandler<{ id: string }>('own', async ({ request, store, params, doer }) => {
  const read = await readBody(request, everyoneSchema)
  if (!read.ok) return read.error
  await store.ask('setEveryone', doer, params.id, read.value.role)
  return NextResponse.json({})
})
