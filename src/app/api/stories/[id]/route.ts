import { NextResponse } from 'next/server'
import { refuse } from '../../../server/answers'
import { store } from '../../../server/store'

type Context = { params: Promise<{ id: string }> }

const UNKNOWN = 'There is no story at this address; it may have been deleted.'

export async function GET(_request: Request, { params }: Context) {
  const { stories } = await store()
  const open = await stories.open((await params).id)
  return open === undefined ? refuse(404, UNKNOWN) : NextResponse.json(open)
}

export async function DELETE(_request: Request, { params }: Context) {
  const { stories } = await store()
  const { id } = await params
  if ((await stories.open(id)) === undefined || !(await stories.remove(id))) return refuse(404, UNKNOWN)
  return NextResponse.json({ id })
}
