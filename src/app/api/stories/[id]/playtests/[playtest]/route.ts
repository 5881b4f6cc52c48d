import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { handler, refuse } from '../../../../../server/answers'

export const DELETE = handler<{ id: string; playtest: string }>(
  'write',
  async ({ store, params: { id, playtest } }) => {
    if (!isUuid(playtest)) return refuse(404, 'There is no such playtest.')
    await store.ask('removePlaytest', id, playtest)
    return NextResponse.json({})
  },
)
