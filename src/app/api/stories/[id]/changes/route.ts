import { NextResponse } from 'next/server'
import { handler, refuseAs } from '../../../../server/answers'
import { isJson, readBytes, refuseOther } from '../../../../server/request'

export const POST = handler<{ id: string }>('write', async ({ request, store, params, doer }) => {
  if (!isJson(request)) return refuseOther()
  const bytes = await readBytes(request)
  if (!bytes.ok) return bytes.error
  const saved = await store.ask('change', params.id, bytes.value, doer)
  return saved.ok ? NextResponse.json(saved.value) : refuseAs(saved.error)
})
