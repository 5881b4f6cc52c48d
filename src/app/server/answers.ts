import { NextResponse } from 'next/server'
import { isUuid } from '../../core/base/ids'
import { failureIn } from '../../store/worker/protocol'
import type { Refused } from '../../store/worker/calls'
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

export const NO_STORY = 'There is no story at this address; it may have been deleted.'

/** JSON that is written already. */
export function jsonText(text: string): Response {
  return new Response(text, { headers: { 'Content-Type': 'application/json; charset=utf-8' } })
}

export interface Asked<Params> {
  readonly request: Request
  readonly store: StoreClient
  readonly params: Params
}

const FAILED = { full: 507, away: 503, fault: 500 } as const

/** A route's handler: parameters that are no ids lead nowhere, and what fails is told without saying what was in it. */
export function handler<Params extends Readonly<Record<string, string>> = Readonly<Record<string, never>>>(
  work: (asked: Asked<Params>) => Promise<Response>,
) {
  return async (request: Request, context: { params: Promise<Params> }): Promise<Response> => {
    try {
      // a route without parameters is handed none at all
      const params = ((await context.params) as Params | undefined) ?? ({} as Params)
      const { id } = params as { id?: string }
      if (id !== undefined && !isUuid(id)) return refuse(404, NO_STORY)
      return await work({ request, store: await store(), params })
    } catch (error) {
      const failure = failureIn(error)
      if (failure !== undefined) return refuse(FAILED[failure.kind], failure.message)
      console.error(`A request failed: ${placeOf(error)}`)
      return refuse(500, 'The server could not do this. Nothing was changed.')
    }
  }
}

/** Where something failed: what the error says may hold a story's words. */
function placeOf(error: unknown): string {
  if (!(error instanceof Error)) return typeof error
  return `${error.name} ${
    error.stack
      ?.split('\n')
      .find((line) => /^\s+at /.test(line))
      ?.trim() ?? ''
  }`
}
