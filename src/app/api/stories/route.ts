import { randomUUID } from 'node:crypto'
import { NextResponse } from 'next/server'
import * as z from 'zod'
import { listedTo, mayMake, NOT_MAKE } from '../../../accounts/seat'
import { isUuid } from '../../../core/base/ids'
import { ORDERS } from '../../../core/contract/answers'
import { languageSchema } from '../../../core/story/schema'
import { handler, refuse, refuseAs } from '../../server/answers'
import { readBody, readBytes } from '../../server/request'

/** Cards of the library: those with `q` in their title, after the first `from`, in an `order`. */
export const GET = handler('here', async ({ request, store, seat }) => {
  const asked = new URL(request.url).searchParams
  const from = asked.get('from') ?? '0'
  if (!/^\d{1,9}$/.test(from)) return refuse(400, 'from: a number is expected')
  const order = z.enum(ORDERS).safeParse(asked.get('order') ?? 'changed')
  if (!order.success) return refuse(400, `order: one of ${ORDERS.join(', ')} is expected`)
  const text = (asked.get('q') ?? '').slice(0, 200)
  return NextResponse.json(await store.ask('list', { text, from: Number(from), order: order.data, ...listedTo(seat) }))
})

const newStory = z.object({ title: z.string().trim().min(1).max(200), language: languageSchema.default('en') })

/** A new story by its title, or, sent as a story file's own text (application/octet-stream), an imported one. */
export const POST = handler('here', async ({ request, store, seat, doer }) => {
  if (!mayMake(seat)) return refuse(403, NOT_MAKE)
  if (request.headers.get('content-type') === 'application/octet-stream') {
    const bytes = await readBytes(request)
    if (!bytes.ok) return bytes.error
    const named = new URL(request.url).searchParams.get('import') ?? ''
    const id = await store.import(bytes.value, isUuid(named) ? named : randomUUID(), doer)
    return id.ok ? NextResponse.json({ id: id.value }) : refuseAs(id.error)
  }
  const body = await readBody(request, newStory)
  if (!body.ok) return body.error
  return NextResponse.json({ id: await store.ask('create', body.value.title, body.value.language, doer) })
})
