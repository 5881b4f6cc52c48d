import { NextResponse } from 'next/server'
import { handler, jsonText, NO_STORY, refuse } from '../../../server/answers'

type Params = { readonly id: string }

export const GET = handler<Params>('read', async ({ store, params, role, doer }) => {
  const text = await store.ask('openText', params.id, role, doer?.id)
  return text === undefined ? refuse(404, NO_STORY) : jsonText(text)
})

export const DELETE = handler<Params>('own', async ({ store, params, doer }) =>
  (await store.ask('remove', params.id, doer)) ? NextResponse.json({ id: params.id }) : refuse(404, NO_STORY),
)
