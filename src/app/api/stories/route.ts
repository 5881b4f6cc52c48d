import { NextResponse } from 'next/server'
import { z } from 'zod'
import { STORY_FILE_BYTES } from '../../../core/base/limits'
import { newStory } from '../../../core/story/new-story'
import { formatMalformed, readStory } from '../../../core/story/read'
import { bodyWithin, refuse, refuseAs } from '../../server/answers'
import { readBody } from '../../server/request'
import { store } from '../../server/store'

export async function GET() {
  const { stories } = await store()
  return NextResponse.json(await stories.list())
}

/** A new story by its title, or, sent as a story file's own text (application/octet-stream), an imported one. */
export async function POST(request: Request) {
  const { stories } = await store()
  if (request.headers.get('content-type') === 'application/octet-stream') {
    const text = await bodyWithin(request, STORY_FILE_BYTES)
    if (text === undefined)
      return refuse(413, `This file is too large: a story file has at most ${STORY_FILE_BYTES / 1024 / 1024} MB.`)
    const story = readStory(text)
    if (!story.ok) return refuse(422, formatMalformed(story.error))
    const created = await stories.create(story.value)
    return created.ok ? NextResponse.json({ id: created.value }) : refuseAs(created.error)
  }
  const body = await readBody(
    request,
    z.object({ title: z.string().trim().min(1).max(200), language: z.string().default('en') }),
  )
  if (!body.ok) return body.error
  const created = await stories.create(newStory(body.value.title, body.value.language))
  return created.ok ? NextResponse.json({ id: created.value }) : refuseAs(created.error)
}
