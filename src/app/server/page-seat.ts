import { headers } from 'next/headers'
import { redirect } from 'next/navigation'
import type { Seat } from '../../accounts/seat'
import { ok, type Result } from '../../core/base/result'
import type { Self } from '../../views/members/self'
import { seat } from './access'
import { reading } from './reading'

/** Who looks at a page; whoever is nobody goes to sign in, and comes back. Or why that can't be said now. */
export async function seated(): Promise<Result<Seat, string>> {
  const asked = await headers()
  const found = await reading(() => seat(asked))
  if (found.ok && found.value.kind === 'nobody')
    redirect(`/sign-in?to=${encodeURIComponent(asked.get('x-path') ?? '/')}`)
  return found.ok ? ok(found.value) : found
}

/** Who looks at a page, if anybody; for pages that need nobody. */
export async function selfHere(): Promise<Self | undefined> {
  const asked = await headers()
  const found = await reading(() => seat(asked))
  return found.ok ? selfOf(found.value) : undefined
}

export function selfOf(seat: Seat): Self | undefined {
  if (seat.kind !== 'member') return undefined
  const { id, name, isOwner } = seat.member
  return { id, name, isOwner }
}
