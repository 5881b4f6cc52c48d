import { allowed, seatOf, type Allowed, type Denied, type Need, type Seat } from '../../accounts/seat'
import { KnownSeats } from '../../accounts/known'
import { accountSettings, type AccountSettings } from '../../accounts/settings'
import { makeSignIn, type SignIn } from '../../accounts/sign-in'
import type { Result } from '../../core/base/result'
import { store } from './store'

/** One for all bundles of the server, and the server that hosts it asks here who may listen to a story. */
const SIGN_IN = Symbol.for('paper-compass.sign-in')
const ACCESS = Symbol.for('paper-compass.access')
const KNOWN = Symbol.for('paper-compass.known')

interface Shared {
  [KNOWN]?: KnownSeats
  [SIGN_IN]?: Promise<SignIn | undefined> | undefined
  [ACCESS]?: (headers: Headers, story: string) => Promise<boolean>
}

/** How people come in; undefined where one works alone. Throws where a setting is wrong. */
export function settings(): AccountSettings | undefined {
  const read = accountSettings(process.env)
  if (!read.ok) throw new Error(read.error)
  return read.value
}

export function signIn(): Promise<SignIn | undefined> {
  const shared = globalThis as Shared
  shared[ACCESS] ??= async (headers, story) => (await asks(headers, 'read', story)).ok
  shared[SIGN_IN] ??= open().catch((error: unknown) => {
    shared[SIGN_IN] = undefined
    throw error
  })
  return shared[SIGN_IN]
}

async function open(): Promise<SignIn | undefined> {
  const known = settings()
  if (known === undefined) return undefined
  const opened = await store()
  return makeSignIn(known, opened, await opened.ask('secret', 'sign-in'))
}

/** What this process knows of who asks. */
export async function known(): Promise<KnownSeats> {
  const shared = globalThis as Shared
  return (shared[KNOWN] ??= new KnownSeats(await store()))
}

/** Who asks. */
export async function seat(headers: Headers): Promise<Seat> {
  return seatOf(headers, await signIn(), await store(), await known())
}

/** Whether whoever asks may do something. */
export async function asks(headers: Headers, need: Need, story?: string): Promise<Result<Allowed, Denied>> {
  return allowed(await seat(headers), need, story, await known())
}
