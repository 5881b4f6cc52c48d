import { NextResponse } from 'next/server'
import { handler, refuseAs } from './answers'
import { readBody, requestSchema } from './request'

/** Takes the last change of a story back, or brings it again. */
export function travelRoute(kind: 'undo' | 'redo') {
  return handler<{ id: string }>(async ({ request, store, params }) => {
    const body = await readBody(request, requestSchema)
    if (!body.ok) return body.error
    const saved = await store.ask('travel', params.id, kind, body.value.request)
    return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
  })
}
