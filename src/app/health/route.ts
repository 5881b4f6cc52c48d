import { NextResponse } from 'next/server'
import { failureIn } from '../../store/worker/protocol'
import { store } from '../server/store'

export const dynamic = 'force-dynamic'

/** For whoever looks after it: that it is alive, whether its database answers, and how much work waits; 503 while that does not. */
export async function GET(): Promise<Response> {
  try {
    const queue = await (await store()).ask('load')
    return NextResponse.json({ alive: true, database: 'answers', queue })
  } catch (error) {
    const why = failureIn(error)?.message ?? 'The store could not be opened.'
    return NextResponse.json({ alive: true, database: 'away', message: why }, { status: 503 })
  }
}
