import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { handler, jsonText, refuse } from '../../../../../server/answers'

type Params = { readonly id: string; readonly job: string }

const NOT_DONE = 'There is no such work here that is done.'

/** What heavy work came to. */
export const GET = handler<Params>('read', async ({ store, params }) => {
  const text = isUuid(params.job) ? await store.ask('jobResult', params.id, params.job) : undefined
  return text === undefined ? refuse(404, NOT_DONE) : jsonText(text)
})

/** Ends heavy work before it is done. */
export const DELETE = handler<Params>('write', async ({ store, params }) => {
  const isEnded = isUuid(params.job) && (await store.ask('cancelJob', params.id, params.job))
  return isEnded ? NextResponse.json({}) : refuse(404, 'There is no such work under way.')
})
