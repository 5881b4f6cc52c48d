import type { NextResponse } from 'next/server'
import { fail, ok, type Result } from '../../core/base/result'
import { fileName } from '../../core/base/file-name'
import { refuse } from './answers'
import { SURVEY_SECONDS } from './story-of'

/** What is asked of an export: what to leave out, and how long may be looked for it. */
export interface Leaving {
  readonly without: boolean
  readonly seconds: number
}

const DEFAULT_SECONDS = 20

export function leaving(request: Request): Result<Leaving, NextResponse> {
  const asked = new URL(request.url).searchParams
  const without = asked.get('without')
  if (without !== null && without !== 'unreached')
    return fail(refuse(400, 'without: "unreached" is expected, or nothing'))
  const seconds = secondsIn(asked)
  return seconds.ok ? ok({ without: without === 'unreached', seconds: seconds.value }) : seconds
}

export function secondsIn(asked: URLSearchParams): Result<number, NextResponse> {
  const seconds = Number(asked.get('budget') ?? DEFAULT_SECONDS)
  return Number.isFinite(seconds) && seconds > 0 && seconds <= SURVEY_SECONDS
    ? ok(seconds)
    : fail(refuse(400, `budget: a number of seconds is expected, at most ${SURVEY_SECONDS}`))
}

/** The headers that make a browser keep an answer as a file. */
export function asFile(title: string, id: string, ending: string): Record<string, string> {
  const { ascii, full } = fileName(title, id.slice(0, 8), ending)
  return { 'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(full)}` }
}
