import { NextResponse } from 'next/server'
import * as z from 'zod'
import { playRecordSchema } from '../../../../../core/formats/playtest/read'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

/** A record of hours is a fraction of this, in bytes. */
const RECORD_BYTES = 8 * 1024 * 1024

const body = z.object({ name: z.string().trim().min(1).max(200), record: playRecordSchema })

export const GET = handler<Params>('read', async ({ store, params }) => {
  const kept = await store.ask('playtests', params.id)
  return kept === undefined ? refuse(404, NO_STORY) : NextResponse.json(kept)
})

/** Keeps a playthrough that was recorded elsewhere. */
export const POST = handler<Params>('write', async ({ request, store, params }) => {
  const read = await readBody(request, body, RECORD_BYTES)
  if (!read.ok) return read.error
  const added = await store.ask('addPlaytest', params.id, read.value.name, read.value.record)
  return added === undefined ? refuse(404, NO_STORY) : NextResponse.json({ added })
})
