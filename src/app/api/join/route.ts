import { NextResponse } from 'next/server'
import { joinSchema, type Invited } from '../../../core/contract/access'
import { seat } from '../../server/access'
import { handler, refuse } from '../../server/answers'
import { makeMember, signedIn, unmake } from '../../../accounts/newcomers'
import { comingIn } from '../../server/members'
import { readBody } from '../../server/request'

const OVER = 'This link can not be used any more: it was used, taken back, or is too old. Ask for a new one.'

/** What a link is for. */
export const GET = handler('anyone', async ({ request, store }) => {
  const way = await comingIn({ request, store })
  if (!way.ok) return way.error
  const opened = await store.ask('open', new URL(request.url).searchParams.get('key') ?? '')
  if (opened === undefined) return refuse(404, OVER)
  const { kind, by, story, role, email } = opened
  return NextResponse.json({ kind, by, story, role, email } satisfies Invited)
})

/**
 * Uses a link: a new member comes in by it with a name, an e-mail and a password; a member who is signed in gets what it
 * promises; or one whose password it is sets a new one.
 */
export const POST = handler('anyone', async ({ request, store }) => {
  const read = await readBody(request, joinSchema)
  if (!read.ok) return read.error
  const way = await comingIn({ request, store })
  if (!way.ok) return way.error
  const { signIn, address } = way.value
  const { key, name, email, password } = read.value
  const opened = await store.ask('open', key)
  if (opened === undefined) return refuse(404, OVER)
  if (opened.kind === 'password') {
    if (password === undefined) return refuse(400, 'password: one is expected')
    const member = await store.ask('find', opened.member!)
    if (member === undefined || !(await store.ask('use', opened.id, { id: member.id, name: member.name, address })))
      return refuse(404, OVER)
    const { internalAdapter, password: hashing } = await signIn.auth.$context
    const hashed = await hashing.hash(password)
    // whoever knew the old one is out
    await internalAdapter.deleteUserSessions(member.id)
    const accounts = await internalAdapter.findAccounts(member.id)
    if (accounts.some(({ providerId }) => providerId === 'credential'))
      await internalAdapter.updatePassword(member.id, hashed)
    else
      await internalAdapter.linkAccount({
        userId: member.id,
        providerId: 'credential',
        accountId: member.id,
        password: hashed,
      })
    return signedIn(signIn, request, member.email, password)
  }
  const asks = await seat(request.headers)
  if (asks.kind === 'member' && asks.session !== undefined && email === undefined)
    return (await store.ask('use', opened.id, asks.doer)) ? NextResponse.json({}) : refuse(404, OVER)
  if (name === undefined || email === undefined || password === undefined)
    return refuse(400, 'name, email and password are expected')
  const made = await makeMember(signIn, { name, email, password })
  if (made === undefined)
    return refuse(409, `Somebody with the e-mail ${email} is here already: sign in, and open the link again.`)
  if (!(await store.ask('use', opened.id, { id: made.id, name, address }))) {
    // somebody else came in by it at the same moment
    await unmake(signIn, made.id)
    return refuse(404, OVER)
  }
  return signedIn(signIn, request, email, password)
})
