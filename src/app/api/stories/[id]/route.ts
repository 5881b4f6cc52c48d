import { NextResponse } from 'next/server'
import { handler, jsonText, NO_STORY, refuse } from '../../../server/answers'

type Params = { readonly id: string }

export const GET = handler<Params>(async ({ store, params }) => {
  const text = await store.ask('openText', params.id)
  return text === undefined ? refuse(404, NO_STORY) : jsonText(text)
})

export const DELETE = handler<Params>(async ({ store, params }) =>
  (await store.ask('remove', params.id)) ? NextResponse.json({ id: params.id }) : refuse(404, NO_STORY),
)
