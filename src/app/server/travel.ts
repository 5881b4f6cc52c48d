import { NextResponse } from 'next/server'
import * as z from 'zod'
import { handler, refuseAs } from './answers'
import { readBody, requestSchema } from './request'

const travelSchema = requestSchema.extend({ anyones: z.boolean().optional() })

/** Takes the last change of a window, or with `anyones` of all, back, or brings it again. */
export function travelRoute(kind: 'undo' | 'redo') {
  return handler<{ id: string }>('write', async ({ request, store, params, doer }) => {
    const body = await readBody(request, travelSchema)
    if (!body.ok) return body.error
    const saved = await store.ask('travel', params.id, kind, body.value.request, {
      ...body.value,
      by: doer,
    })
    return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
  })
}
