import { NextResponse } from 'next/server'
import type { Refusal } from '../../store/stories'

/** The status and body of everything that is refused: what, where, what to do. */
export function refuse(status: number, message: string): NextResponse {
  return NextResponse.json({ message }, { status })
}

const STATUS: Readonly<Record<Refusal['kind'], number>> = { unknown: 404, conflict: 409, unstorable: 422 }

export function refuseAs({ kind, message }: Refusal): NextResponse {
  return refuse(STATUS[kind], message)
}

/** The body as text, or undefined when it is larger than `limit` bytes. */
export async function bodyWithin(request: Request, limit: number): Promise<string | undefined> {
  if (Number(request.headers.get('content-length') ?? 0) > limit) return undefined
  const reader = request.body?.getReader()
  const chunks: Uint8Array[] = []
  let size = 0
  while (reader !== undefined) {
    const { done, value } = await reader.read()
    if (done) break
    size += value.length
    if (size > limit) {
      await reader.cancel()
      return undefined
    }
    chunks.push(value)
  }
  return Buffer.concat(chunks).toString('utf8')
}
