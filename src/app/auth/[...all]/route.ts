import { handler, refuse } from '../../server/answers'
import { signIn } from '../../server/access'

/** What of signing in is done here; all else has routes of its own. */
const DONE: Readonly<Record<string, readonly string[]>> = {
  GET: [`/auth/callback/`],
  POST: ['/auth/sign-in/email', '/auth/sign-in/social', '/auth/link-social', '/auth/sign-out', '/auth/change-password'],
}

/** Signs people in and out. */
const answer = handler<{ all: string[] }>('anyone', async ({ request }) => {
  const opened = await signIn()
  const { pathname } = new URL(request.url)
  const isDone = DONE[request.method]!.some((path) =>
    path.endsWith('/') ? pathname.startsWith(path) : path === pathname,
  )
  if (opened === undefined || !isDone) return refuse(404, 'There is nothing here.')
  return opened.auth.handler(request)
})

export { answer as GET, answer as POST }
