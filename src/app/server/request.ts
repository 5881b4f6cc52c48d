import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import type { NextResponse } from 'next/server'
import { STORY_FILE_BYTES } from '../../core/base/limits'
import { fail, ok, type Result } from '../../core/base/result'
import { bodyWithin, refuse } from './answers'

/** The JSON body of a request, checked; or the refusal to answer with. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<Result<T, NextResponse>> {
  const text = await bodyWithin(request, STORY_FILE_BYTES)
  if (text === undefined) return fail(refuse(413, `this is more than ${STORY_FILE_BYTES / 1024 / 1024} MB`))
  try {
    const parsed = schema.safeParse(text === '' ? {} : JSON.parse(text))
    if (parsed.success) return ok(parsed.data)
    return fail(refuse(400, parsed.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('\n')))
  } catch {
    return fail(refuse(400, 'the request is not JSON'))
  }
}

/** A request that can be sent again without being carried out twice. */
export const requestSchema = z.object({ request: z.uuid().default(() => randomUUID()) })
