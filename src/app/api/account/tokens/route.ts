import { NextResponse } from 'next/server'
import { newTokenSchema } from '../../../../core/contract/access'
import { refuse } from '../../../server/answers'
import { memberHandler } from '../../../server/members'
import { readBody } from '../../../server/request'

/** A new token for a program, which is shown once. */
export const POST = memberHandler('self', async ({ request, doer, store }) => {
  const read = await readBody(request, newTokenSchema)
  if (!read.ok) return read.error
  const { story } = read.value
  if (story !== undefined && (await store.ask('roleOf', doer.id, story)) === undefined)
    return refuse(404, 'There is no such story.')
  return NextResponse.json({ key: await store.ask('makeToken', doer, read.value) })
})
