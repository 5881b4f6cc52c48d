import { NextResponse } from 'next/server'
import * as z from 'zod'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

const body = z.object({
  name: z.string().trim().min(1, 'a version needs a name').max(200, 'a name has at most 200 signs'),
})

/** Gives the story as it is now a name. */
export const POST = handler<{ id: string }>('write', async ({ request, store, params }) => {
  const read = await readBody(request, body)
  if (!read.ok) return read.error
  const named = await store.ask('nameVersion', params.id, read.value.name)
  return named ? NextResponse.json({}) : refuse(404, NO_STORY)
})
