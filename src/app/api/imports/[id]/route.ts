import { NextResponse } from 'next/server'
import { handler, refuse } from '../../../server/answers'

/** How far an import is, while it goes on. */
export const GET = handler<{ id: string }>('here', async ({ store, params }) => {
  const progress = store.progressOf(params.id)
  return progress === undefined ? refuse(404, 'This import is not under way.') : NextResponse.json(progress)
})
