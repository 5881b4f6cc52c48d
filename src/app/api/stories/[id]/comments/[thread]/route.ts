import { NextResponse } from 'next/server'
import { isUuid } from '../../../../../../core/base/ids'
import { threadChangeSchema } from '../../../../../../core/contract/comments'
import { refuse } from '../../../../../server/answers'
import { memberHandler } from '../../../../../server/members'
import { readBody } from '../../../../../server/request'

type Params = { readonly id: string; readonly thread: string }

const NONE = 'There are no such comments any more.'

/** Answers a thread, gives it to somebody, or says that it is done. */
export const POST = memberHandler<Params>('comment', async ({ request, store, params: { id, thread }, doer }) => {
  const read = await readBody(request, threadChangeSchema)
  if (!read.ok) return read.error
  const { givenTo } = read.value
  if (typeof givenTo === 'string' && (await store.ask('roleOf', givenTo, id)) === undefined)
    return refuse(409, 'Whoever it is given to does not see this story.')
  const isThere = isUuid(thread) && (await store.ask('changeThread', id, thread, doer, read.value))
  return isThere ? NextResponse.json({}) : refuse(404, NONE)
})

/** Takes a thread away: one that one began, or any where one owns the story. */
export const DELETE = memberHandler<Params>('comment', async ({ store, params: { id, thread }, doer, role }) =>
  isUuid(thread) && (await store.ask('removeThread', id, thread, doer, role === 'owner'))
    ? NextResponse.json({})
    : refuse(404, NONE),
)
