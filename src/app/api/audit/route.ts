import { NextResponse } from 'next/server'
import { isUuid } from '../../../core/base/ids'
import { refuse } from '../../server/answers'
import { memberHandler } from '../../server/members'

/** Who did what to accounts, roles and stories, a hundred at once, those `before` an entry. */
export const GET = memberHandler('steward', async ({ request, store }) => {
  const before = new URL(request.url).searchParams.get('before') ?? undefined
  if (before !== undefined && !isUuid(before)) return refuse(400, 'before: the id of an entry is expected')
  return NextResponse.json(await store.ask('deeds', before))
})
