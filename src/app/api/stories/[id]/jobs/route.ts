import { NextResponse } from 'next/server'
import { jobAskSchema } from '../../../../../core/contract/jobs'
import { handler, refuse } from '../../../../server/answers'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

/** What heavy work was asked for of a story, and how far it is. */
export const GET = handler<Params>('read', async ({ store, params }) =>
  NextResponse.json(await store.ask('jobs', params.id)),
)

/** Asks for heavy work on a story as it is now. */
export const POST = handler<Params>('write', async ({ request, store, params, doer }) => {
  const read = await readBody(request, jobAskSchema)
  if (!read.ok) return read.error
  const id = await store.ask('beginJob', params.id, read.value, doer?.id)
  if (id !== undefined) return NextResponse.json({ id })
  return refuse(
    409,
    read.value.kind === 'carry'
      ? 'No version of this story is marked as released: name one in History, and say that players have it.'
      : 'The story is not there any more.',
  )
})
