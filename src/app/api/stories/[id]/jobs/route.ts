import { NextResponse } from 'next/server'
import { jobAskSchema } from '../../../../../core/contract/jobs'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

const REFUSALS = {
  unknown: [404, NO_STORY],
  'not released': [
    409,
    'No version of this story is marked as released: name one in History, and say that players have it.',
  ],
  'too much': [409, 'Much is being worked on for this story already: wait until some of it is done, or stop it.'],
} as const

/** What heavy work was asked for of a story, and how far it is. */
export const GET = handler<Params>('read', async ({ store, params }) =>
  NextResponse.json(await store.ask('jobs', params.id)),
)

/** Asks for heavy work on a story as it is now. */
export const POST = handler<Params>('write', async ({ request, store, params, doer }) => {
  const read = await readBody(request, jobAskSchema)
  if (!read.ok) return read.error
  const begun = await store.ask('beginJob', params.id, read.value, doer?.id)
  if (begun.ok) return NextResponse.json({ id: begun.value })
  const [status, message] = REFUSALS[begun.error]
  return refuse(status, message)
})
