import type { SignIn } from './sign-in'

export interface NewMember {
  readonly name: string
  readonly email: string
  readonly password: string
}

/** Makes a member who signs in with a password; undefined where there is one with this e-mail. */
export async function makeMember({ auth }: SignIn, made: NewMember): Promise<{ id: string } | undefined> {
  const { internalAdapter, password } = await auth.$context
  if ((await internalAdapter.findUserByEmail(made.email)) !== null) return undefined
  const hashed = await password.hash(made.password)
  const { id } = await internalAdapter.createUser(
    { name: made.name, email: made.email, emailVerified: false },
    { method: 'admin' },
  )
  await internalAdapter.linkAccount({ userId: id, providerId: 'credential', accountId: id, password: hashed })
  return { id }
}

/** Signs in with a password; the answer sets the cookie, and says nothing else. */
export async function signedIn({ auth }: SignIn, request: Request, email: string, password: string): Promise<Response> {
  const done = await auth.api.signInEmail({ body: { email, password }, headers: request.headers, asResponse: true })
  const headers = new Headers({ 'Content-Type': 'application/json' })
  for (const cookie of done.headers.getSetCookie()) headers.append('Set-Cookie', cookie)
  return new Response('{}', { status: done.status, headers })
}
