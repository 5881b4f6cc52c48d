import type { NextResponse } from 'next/server'
import type { Need } from '../../accounts/seat'
import { ADDRESS_HEADER, type SignIn } from '../../accounts/sign-in'
import { fail, ok, type Result } from '../../core/base/result'
import type { Doer } from '../../store/audit'
import { settings, signIn } from './access'
import { handler, refuse, type Asked } from './answers'

export interface AskedByMember<Params> extends Asked<Params> {
  readonly signIn: SignIn
  readonly doer: Doer & { readonly id: string }
}

const NO_ACCOUNTS = 'There are no accounts here.'
/** Tries to come in by a link, from one address, count for so long, in seconds. */
const TRIES_SECONDS = 600

/** A handler for those who have an account; there is nothing at its address where there are no accounts. */
export function memberHandler<Params extends Readonly<Record<string, string>> = Readonly<Record<string, never>>>(
  need: Exclude<Need, 'anyone'>,
  work: (asked: AskedByMember<Params>) => Promise<Response>,
) {
  return handler<Params>(need, async (asked) => {
    const opened = await signIn()
    if (opened === undefined || asked.doer === undefined) return refuse(404, NO_ACCOUNTS)
    return work({ ...asked, signIn: opened, doer: asked.doer })
  })
}

/** How one comes in; refused where there are no accounts, and where it was tried too often from there. */
export async function comingIn({
  request,
  store,
}: Pick<Asked<unknown>, 'request' | 'store'>): Promise<
  Result<{ readonly signIn: SignIn; readonly address: string | undefined }, NextResponse>
> {
  const address = request.headers.get(ADDRESS_HEADER) ?? undefined
  const opened = await signIn()
  if (opened === undefined) return fail(refuse(404, NO_ACCOUNTS))
  if (!(await store.ask('mayTry', `join ${address}`, TRIES_SECONDS, settings()!.tries.links)))
    return fail(refuse(429, 'This was tried too often from there; try again in ten minutes.'))
  return ok({ signIn: opened, address })
}
