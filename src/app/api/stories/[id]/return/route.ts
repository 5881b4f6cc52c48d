import { NextResponse } from 'next/server'
import { z } from 'zod'
import { refuseAs } from '../../../../server/answers'
import { readBody, requestSchema } from '../../../../server/request'
import { store } from '../../../../server/store'

/** Makes the story what it was after a revision, as a new change. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const body = await readBody(request, requestSchema.extend({ revision: z.int().min(0) }))
  if (!body.ok) return body.error
  const saved = await stories.returnTo((await params).id, body.value.revision, body.value.request)
  return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
}
