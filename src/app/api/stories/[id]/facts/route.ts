import { NextResponse } from 'next/server'
import * as z from 'zod'
import { factsSchema } from '../../../../../core/contract/answers'
import { handler } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

const body = z.object({ revision: z.int().min(0), facts: factsSchema })

/** Keeps what the survey of an open story said, for the library. */
export const POST = handler<{ id: string }>('write', async ({ request, store, params }) => {
  const read = await readBody(request, body)
  if (!read.ok) return read.error
  await store.ask('keepFacts', params.id, read.value.revision, read.value.facts)
  return NextResponse.json({})
})
