import { NextResponse } from 'next/server'
import { failureIn } from '../../store/worker/protocol'
import { store } from '../server/store'

export const dynamic = 'force-dynamic'

/** For whoever looks after it: that it is alive, and whether its database answers; 503 while it does not. */
export async function GET(): Promise<Response> {
  try {
    await (await store()).ask('ping')
    return NextResponse.json({ alive: true, database: 'answers' })
  } catch (error) {
    const why = failureIn(error)?.message ?? 'The store could not be opened.'
    return NextResponse.json({ alive: true, database: 'away', message: why }, { status: 503 })
  }
}
