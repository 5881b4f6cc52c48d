import { NextResponse } from 'next/server'
import { NO_STORY, type Allowed, type Need } from '../../accounts/seat'
import { placeOf } from '../../core/base/error-place'
import { isUuid } from '../../core/base/ids'
import type { Role } from '../../core/contract/access'
import type { Doer } from '../../store/audit'
import { failureIn } from '../../store/worker/protocol'
import type { Refused } from '../../store/worker/calls'
import { asks } from './access'
import { logFailure } from './log'
import { store } from './store'
import type { StoreClient } from '../../store/worker/client'

/** The status and body of everything that is refused: what, where, what to do. */
export function refuse(status: number, message: string, more: Partial<Refused> = {}): NextResponse {
  return NextResponse.json({ ...more, message }, { status })
}

const STATUS: Readonly<Record<Refused['kind'], number>> = {
  unknown: 404,
  conflict: 409,
  malformed: 422,
  'no-request': 400,
}

export function refuseAs({ kind, message, anyones }: Refused): NextResponse {
  return refuse(STATUS[kind], message, anyones && { anyones })
}

export { NO_STORY }

/** JSON that is written already. */
export function jsonText(text: string): Response {
  return new Response(text, { headers: { 'Content-Type': 'application/json; charset=utf-8' } })
}

export interface Asked<Params> {
  readonly request: Request
  readonly store: StoreClient
  readonly params: Params
  readonly seat: Allowed['seat']
  /** What one is in the story that is asked for. */
  readonly role: Role
  /** The member who asks; undefined where one works alone. */
  readonly doer: (Doer & { readonly id: string }) | undefined
}

const FAILED = { full: 507, away: 503, fault: 500 } as const

/**
 * A route's handler, for those who have what it needs: parameters that are no ids lead nowhere, and what fails is told
 * without saying what was in it.
 */
export function handler<Params extends Readonly<Record<string, unknown>> = Readonly<Record<string, never>>>(
  need: Need,
  work: (asked: Asked<Params>) => Promise<Response>,
) {
  return async (request: Request, context: { params: Promise<Params> }): Promise<Response> => {
    try {
      // a route without parameters is handed none at all
      const params = ((await context.params) as Params | undefined) ?? ({} as Params)
      const { id } = params as { id?: string }
      if (id !== undefined && !isUuid(id)) return refuse(404, NO_STORY)
      const may = await asks(request.headers, need, id)
      if (!may.ok) return refuse(may.error.status, may.error.message)
      const { seat, role } = may.value
      const doer = seat.kind === 'member' ? seat.doer : undefined
      return await work({ request, store: await store(), params, seat, role, doer })
    } catch (error) {
      const failure = failureIn(error)
      if (failure !== undefined) return refuse(FAILED[failure.kind], failure.message)
      logFailure('A request failed', placeOf(error))
      return refuse(500, 'The server could not do this. Nothing was changed.')
    }
  }
}
