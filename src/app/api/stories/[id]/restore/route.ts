import { NextResponse } from 'next/server'
import { refuse } from '../../../../server/answers'
import { store } from '../../../../server/store'

export async function POST(_request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const { id } = await params
  const known = /^[0-9a-f-]{36}$/.test(id) && (await stories.restore(id))
  return known ? NextResponse.json({ id }) : refuse(404, 'There is no such story to bring back.')
}
