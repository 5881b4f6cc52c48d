import { NextResponse } from 'next/server'
import * as z from 'zod'
import { handler, refuseAs } from '../../../../server/answers'
import { readBody, requestSchema } from '../../../../server/request'

/** Makes the story what it was after a revision, as a new change. */
export const POST = handler<{ id: string }>('write', async ({ request, store, params, doer }) => {
  const body = await readBody(request, requestSchema.extend({ revision: z.int().min(0) }))
  if (!body.ok) return body.error
  const { revision, request: named, author } = body.value
  const saved = await store.ask('returnTo', params.id, revision, named, { author, by: doer })
  return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
})
