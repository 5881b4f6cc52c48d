import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { releasedSchema } from '../../../../../../core/contract/answers'
import { handler, refuse } from '../../../../../server/answers'
import { readBody } from '../../../../../server/request'

const NONE = 'There is no such version.'

/** Says that players have a version, or no longer. */
export const POST = handler<{ id: string; version: string }>(
  'write',
  async ({ request, store, params: { id, version } }) => {
    const read = await readBody(request, releasedSchema)
    if (!read.ok) return read.error
    const done = isUuid(version) && (await store.ask('releaseVersion', id, version, read.value.isReleased))
    return done ? NextResponse.json({}) : refuse(404, NONE)
  },
)

/** Forgets a version's name; the steps that led to it stay. */
export const DELETE = handler<{ id: string; version: string }>('write', async ({ store, params: { id, version } }) => {
  if (!isUuid(version)) return refuse(404, NONE)
  await store.ask('forgetVersion', id, version)
  return NextResponse.json({})
})
