import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { handler, refuse } from '../../../../../server/answers'

/** Forgets a version's name; the steps that led to it stay. */
export const DELETE = handler<{ id: string; version: string }>('write', async ({ store, params: { id, version } }) => {
  if (!isUuid(version)) return refuse(404, 'There is no such version.')
  await store.ask('forgetVersion', id, version)
  return NextResponse.json({})
})
