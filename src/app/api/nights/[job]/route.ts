import { NextResponse } from 'next/server'
import { isUuid } from '../../../../core/base/ids'
import { handler, refuse } from '../../../server/answers'

/** Ends a survey of all stories before it is over. */
export const DELETE = handler<{ job: string }>('steward', async ({ store, params }) => {
  const isEnded = isUuid(params.job) && (await store.ask('cancelJob', undefined, params.job))
  return isEnded ? NextResponse.json({}) : refuse(404, 'There is no such survey under way.')
})
