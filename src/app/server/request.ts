import { randomUUID } from 'node:crypto'
import * as z from 'zod'
import type { NextResponse } from 'next/server'
import { fail, ok, type Result } from '../../core/base/result'
import { refuse } from './answers'
import { storyBytes } from './story-limit'

/** A request's body may take this long to come, in milliseconds. */
const BODY_MS = 60_000
/** A body that only names something, in bytes. */
const SMALL_BYTES = 64 * 1024

/** The bytes of a body of at most `limit`; or the refusal to answer with. */
export async function readBytes(
  request: Request,
  limit = storyBytes(),
): Promise<Result<Uint8Array<ArrayBuffer>, NextResponse>> {
  const tooLarge = () => fail(refuse(413, `This is more than ${Math.round(limit / 1024)} kB, which is the most here.`))
  if (Number(request.headers.get('content-length') ?? 0) > limit) return tooLarge()
  const reader = request.body?.getReader()
  const chunks: Uint8Array[] = []
  let size = 0
  const late = new Promise<'late'>((resolve) => setTimeout(() => resolve('late'), BODY_MS).unref())
  while (reader !== undefined) {
    const read = await Promise.race([reader.read(), late])
    if (read === 'late') {
      void reader.cancel().catch(() => undefined)
      return fail(refuse(408, 'The request did not come in time; send it again.'))
    }
    if (read.done) break
    size += read.value.length
    if (size > limit) {
      void reader.cancel().catch(() => undefined)
      return tooLarge()
    }
    chunks.push(read.value)
  }
  const bytes = new Uint8Array(size)
  let at = 0
  for (const chunk of chunks) {
    bytes.set(chunk, at)
    at += chunk.length
  }
  return ok(bytes)
}

/** Whether a body says of itself that it is JSON; a form of another page can't say so. */
export function isJson(request: Request): boolean {
  return /^application\/json\s*(;|$)/i.test(request.headers.get('content-type') ?? '')
}

export function refuseOther(): NextResponse {
  return refuse(415, 'A body in JSON is expected, sent as application/json.')
}

/** The JSON body of a request, checked; or the refusal to answer with. */
export async function readBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  limit = SMALL_BYTES,
): Promise<Result<T, NextResponse>> {
  if (!isJson(request)) return fail(refuseOther())
  const bytes = await readBytes(request, limit)
  if (!bytes.ok) return bytes
  let json: unknown
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes.value))
  } catch {
    return fail(refuse(400, 'The request is not JSON.'))
  }
  const parsed = schema.safeParse(json)
  if (parsed.success) return ok(parsed.data)
  const said = parsed.error.issues.slice(0, 5).map((issue) => `${issue.path.join('.') || 'the body'}: ${issue.message}`)
  return fail(refuse(400, said.join('\n')))
}

/** A request that can be sent again without being carried out twice. */
export const requestSchema = z.object({
  request: z.uuid().default(() => randomUUID()),
  /** The window that it was made in. */
  author: z.uuid().optional(),
})
