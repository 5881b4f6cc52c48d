import { NextResponse } from 'next/server'
import * as z from 'zod'
import { refuse } from '../../../server/answers'
import { memberHandler } from '../../../server/members'
import { readBody } from '../../../server/request'

/** A token lives for a year at most. */
const DAYS_MAX = 366

const body = z.object({
  name: z.string().trim().min(1, 'a token needs a name').max(100),
  mayWrite: z.boolean().default(false),
  story: z.uuid().optional(),
  days: z.int().min(1).max(DAYS_MAX),
})

/** A new token for a program, which is shown once. */
export const POST = memberHandler('self', async ({ request, doer, store }) => {
  const read = await readBody(request, body)
  if (!read.ok) return read.error
  const { story } = read.value
  if (story !== undefined && (await store.ask('roleOf', doer.id, story)) === undefined)
    return refuse(404, 'There is no such story.')
  return NextResponse.json({ key: await store.ask('makeToken', doer, read.value) })
})
