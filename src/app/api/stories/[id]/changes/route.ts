import { NextResponse } from 'next/server'
import { z } from 'zod'
import { readChange } from '../../../../../core/story/changes/schema'
import { refuse, refuseAs } from '../../../../server/answers'
import { readBody, requestSchema } from '../../../../server/request'
import { store } from '../../../../server/store'

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const body = await readBody(request, requestSchema.extend({ change: z.unknown() }))
  if (!body.ok) return body.error
  const change = readChange(body.value.change)
  if (!change.ok) return refuse(422, change.error)
  const saved = await stories.change((await params).id, change.value, body.value.request)
  return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
}
