import { NextResponse } from 'next/server'
import { newThreadSchema } from '../../../../../core/contract/comments'
import { refuse } from '../../../../server/answers'
import { memberHandler } from '../../../../server/members'
import { readBody } from '../../../../server/request'

type Params = { readonly id: string }

/** What members say about a story, by what it is about. */
export const GET = memberHandler<Params>('read', async ({ store, params }) =>
  NextResponse.json(await store.ask('threads', params.id)),
)

/** A new thread about something in a story. */
export const POST = memberHandler<Params>('comment', async ({ request, store, params, doer }) => {
  const read = await readBody(request, newThreadSchema)
  if (!read.ok) return read.error
  const { givenTo } = read.value
  if (givenTo !== null && (await store.ask('roleOf', givenTo, params.id)) === undefined)
    return refuse(409, 'Whoever it is given to does not see this story.')
  return NextResponse.json({ id: await store.ask('beginThread', params.id, doer, read.value) })
})
