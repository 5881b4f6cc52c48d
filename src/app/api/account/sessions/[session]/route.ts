import { NextResponse } from 'next/server'
import { refuse } from '../../../../server/answers'
import { memberHandler } from '../../../../server/members'

/** Ends one of one's own sessions: whoever has it is out. */
export const DELETE = memberHandler<{ session: string }>('self', async ({ params, doer, store, signIn }) => {
  const { internalAdapter } = await signIn.auth.$context
  const found = (await internalAdapter.listSessions(doer.id)).find(({ id }) => id === params.session)
  if (found === undefined) return refuse(404, 'There is no such session any more.')
  await internalAdapter.deleteSession(found.token)
  await store.ask('enter', doer, 'ended a session')
  return NextResponse.json({})
})
