import { NextResponse } from 'next/server'
import { z } from 'zod'
import { refuse } from '../../../../server/answers'
import { readBody } from '../../../../server/request'
import { store } from '../../../../server/store'

const body = z.object({
  name: z.string().trim().min(1, 'a version needs a name').max(200, 'a name has at most 200 signs'),
})

/** Gives the story as it is now a name. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const read = await readBody(request, body)
  if (!read.ok) return read.error
  const named = await stories.nameVersion((await params).id, read.value.name)
  return named ? NextResponse.json({}) : refuse(404, 'There is no story at this address; it may have been deleted.')
}
