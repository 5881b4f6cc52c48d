import { lesser, may, type Member, type Right, type Role } from '../core/contract/access'
import { fail, ok, type Result } from '../core/base/result'
import type { Doer } from '../store/audit'
import type { StoreClient } from '../store/worker/client'
import { StoreFailure } from '../store/worker/protocol'
import { ADDRESS_HEADER, type SignIn } from './sign-in'

/** Who asks. */
export type Seat =
  /** There are no accounts: whoever is at this machine may do everything. */
  | { readonly kind: 'alone' }
  | { readonly kind: 'nobody' }
  | {
      readonly kind: 'member'
      readonly member: Member
      /** The session that was signed in to; none where a token speaks for the member. */
      readonly session: string | undefined
      readonly mayWrite: boolean
      /** The only story that a token is for. */
      readonly story: string | null
      readonly doer: Doer & { readonly id: string }
    }

/**
 * What has to be so for something to be done: a right in a story; or that one is anybody, somebody with an account or a
 * token of theirs (`here`), signed in oneself (`self`), or one who looks after the server (`steward`).
 */
export type Need = Right | 'anyone' | 'here' | 'self' | 'steward'

export interface Allowed {
  readonly seat: Seat
  /** What one is in the story that was asked for; its owner where none was. */
  readonly role: Role
}

export interface Denied {
  readonly status: 401 | 403 | 404
  readonly message: string
}

const SIGN_IN: Denied = {
  status: 401,
  message: 'You are not signed in: sign in in another window.',
}
export const NO_STORY = 'There is no story at this address; it may have been deleted.'
const TO: Readonly<Record<Right, string>> = {
  read: 'read it',
  comment: 'comment on it',
  write: 'change it',
  own: 'do this, which is for its owners',
}
const AS: Readonly<Record<Role, string>> = {
  reader: 'read this story',
  commentator: 'read this story and comment on it',
  writer: 'write in this story',
  owner: 'do everything with this story',
}

/** What was asked of the database before, and still holds. */
export interface Known {
  /** Who asks with these cookies. */
  seat(cookies: string, find: () => Promise<Seat>): Promise<Seat>
  roleOf(member: string, story: string): Promise<Role | undefined>
}

/** Who asks, by the headers of a request. Throws where the database does not say. */
export async function seatOf(
  headers: Headers,
  signIn: SignIn | undefined,
  store: StoreClient,
  known: Known,
): Promise<Seat> {
  if (signIn === undefined) return { kind: 'alone' }
  const address = headers.get(ADDRESS_HEADER) ?? undefined
  const token = /^Bearer (pc_[\w-]{1,100})$/.exec(headers.get('authorization') ?? '')?.[1]
  if (token !== undefined) {
    const bearer = await store.ask('bearer', token)
    if (bearer === undefined) return { kind: 'nobody' }
    return { kind: 'member', session: undefined, ...bearer, doer: doerOf(bearer.member, address) }
  }
  const seat = await known.seat(headers.get('cookie') ?? '', () => signedIn(headers, signIn, store))
  // the same person may ask from elsewhere
  return seat.kind === 'member' ? { ...seat, doer: doerOf(seat.member, address) } : seat
}

async function signedIn(headers: Headers, signIn: SignIn, store: StoreClient): Promise<Seat> {
  const found = await signIn.auth.api.getSession({ headers }).catch(() => {
    throw new StoreFailure({ kind: 'away', message: 'The database does not answer at the moment.' })
  })
  if (found === null) return { kind: 'nobody' }
  const member = await store.ask('find', found.user.id)
  if (member === undefined) return { kind: 'nobody' }
  return {
    kind: 'member',
    member,
    session: found.session.id,
    mayWrite: true,
    story: null,
    doer: doerOf(member, undefined),
  }
}

function doerOf({ id, name }: Member, address: string | undefined): Doer & { readonly id: string } {
  return { id, name, address }
}

/** Whether whoever asks may do something, in a story where it needs one. The one place where that is decided. */
export async function allowed(
  seat: Seat,
  need: Need,
  story: string | undefined,
  roles: Pick<Known, 'roleOf'>,
): Promise<Result<Allowed, Denied>> {
  if (need === 'anyone' || seat.kind === 'alone') return ok({ seat, role: 'owner' })
  if (seat.kind === 'nobody') return fail(SIGN_IN)
  if (need === 'here') return ok({ seat, role: 'owner' })
  if (need === 'self' || need === 'steward') {
    if (seat.session === undefined) return fail({ status: 403, message: 'A token can not do this: sign in yourself.' })
    return need === 'self' || seat.member.isOwner
      ? ok({ seat, role: 'owner' })
      : fail({ status: 403, message: 'This is for those who look after the server.' })
  }
  const own = story === undefined ? undefined : await roles.roleOf(seat.member.id, story)
  if (own === undefined || (seat.story !== null && seat.story !== story))
    return fail({ status: 404, message: NO_STORY })
  const role = lesser(own, seat.session !== undefined ? 'owner' : seat.mayWrite ? 'writer' : 'reader')
  return may(role, need)
    ? ok({ seat, role })
    : fail({ status: 403, message: `You may ${AS[role]}, but not ${TO[need]}. One of its owners can give you more.` })
}

export const NOT_MAKE = 'This token can not make stories: it only reads, or is for one story.'

/** Whether whoever asks may make stories. */
export function mayMake(seat: Seat): boolean {
  return seat.kind !== 'member' || (seat.mayWrite && seat.story === null)
}

/** What of the library is shown to whoever asks. */
export function listedTo(seat: Seat): { member?: string; story?: string } {
  if (seat.kind !== 'member') return {}
  return { member: seat.member.id, ...(seat.story === null ? {} : { story: seat.story }) }
}
