import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { refuse } from '../../../../../server/answers'
import { memberHandler } from '../../../../../server/members'

/** Takes a link into a story back. */
export const DELETE = memberHandler<{ id: string; invitation: string }>('own', async ({ params, doer, store }) =>
  isUuid(params.invitation) && (await store.ask('withdraw', doer, params.invitation, params.id))
    ? NextResponse.json({})
    : refuse(404, 'There is no such link any more.'),
)
