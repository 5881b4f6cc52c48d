import { NextResponse } from 'next/server'
import { refuseAs } from './answers'
import { readBody, requestSchema } from './request'
import { store } from './store'

/** Takes the last change of a story back, or brings it again. */
export function travelRoute(kind: 'undo' | 'redo') {
  return async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
    const { stories } = await store()
    const body = await readBody(request, requestSchema)
    if (!body.ok) return body.error
    const saved = await stories.travel((await params).id, kind, body.value.request)
    return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
  }
}
