import { NextResponse } from 'next/server'
import { z } from 'zod'
import { refuse } from '../../../../../server/answers'
import { store } from '../../../../../server/store'

/** Forgets a version's name; the steps that led to it stay. */
export async function DELETE(_request: Request, { params }: { params: Promise<{ id: string; version: string }> }) {
  const { id, version } = await params
  if (!z.uuid().safeParse(version).success) return refuse(404, 'There is no such version.')
  const { stories } = await store()
  await stories.forgetVersion(id, version)
  return NextResponse.json({})
}
