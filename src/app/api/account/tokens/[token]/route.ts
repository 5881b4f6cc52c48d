import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../core/base/ids'
import { refuse } from '../../../../server/answers'
import { memberHandler } from '../../../../server/members'

/** Ends one of one's own tokens. */
export const DELETE = memberHandler<{ token: string }>('self', async ({ params, doer, store }) =>
  isUuid(params.token) && (await store.ask('endToken', doer, params.token))
    ? NextResponse.json({})
    : refuse(404, 'There is no such token any more.'),
)
