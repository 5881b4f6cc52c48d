import type { SignIn } from './sign-in'

export interface NewMember {
  readonly name: string
  readonly email: string
  readonly password: string
}

/**
 * Makes a member who signs in with a password; undefined where there is one with this e-mail, unless that one is to be
 * replaced.
 */
export async function makeMember(
  { auth }: SignIn,
  made: NewMember,
  { replace = false } = {},
): Promise<{ id: string } | undefined> {
  const { internalAdapter, password } = await auth.$context
  const before = await internalAdapter.findUserByEmail(made.email)
  if (before !== null && !replace) return undefined
  if (before !== null) await internalAdapter.deleteUser(before.user.id)
  const hashed = await password.hash(made.password)
  const { id } = await internalAdapter.createUser(
    { name: made.name, email: made.email, emailVerified: false },
    { method: 'admin' },
  )
  await internalAdapter.linkAccount({ userId: id, providerId: 'credential', accountId: id, password: hashed })
  return { id }
}

/** Takes away a member who was made, but came too late. */
export async function unmake({ auth }: SignIn, id: string): Promise<void> {
  await (await auth.$context).internalAdapter.deleteUser(id)
}

/** Signs in with a password; the answer sets the cookie, and says nothing else. */
export async function signedIn({ auth }: SignIn, request: Request, email: string, password: string): Promise<Response> {
  const done = await auth.api.signInEmail({ body: { email, password }, headers: request.headers, asResponse: true })
  const headers = new Headers({ 'Content-Type': 'application/json' })
  for (const cookie of done.headers.getSetCookie()) headers.append('Set-Cookie', cookie)
  return new Response('{}', { status: done.status, headers })
}
