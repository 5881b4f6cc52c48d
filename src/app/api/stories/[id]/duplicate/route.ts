import { NextResponse } from 'next/server'
import { refuse, refuseAs } from '../../../../server/answers'
import { store } from '../../../../server/store'

export async function POST(_request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const open = await stories.open((await params).id)
  if (open === undefined) return refuse(404, 'There is no story at this address; it may have been deleted.')
  const created = await stories.create({ ...open.story, title: `${open.story.title} (copy)` })
  return created.ok ? NextResponse.json({ id: created.value }) : refuseAs(created.error)
}
