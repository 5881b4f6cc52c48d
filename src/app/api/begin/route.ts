import { beginSchema } from '../../../core/contract/access'
import { handler, refuse } from '../../server/answers'
import { makeMember, signedIn, unmake } from '../../../accounts/newcomers'
import { comingIn } from '../../server/members'
import { readBody } from '../../server/request'

/** The first member comes in, by the key that the server printed when it started, and owns it. */
export const POST = handler('anyone', async ({ request, store }) => {
  const read = await readBody(request, beginSchema)
  if (!read.ok) return read.error
  const way = await comingIn({ request, store })
  if (!way.ok) return way.error
  const { signIn, address } = way.value
  const { key, name, email, password } = read.value
  const first = await store.ask('firstKey')
  if (first === undefined) return refuse(409, 'This server has an owner already: ask them for an invitation.')
  if (key !== first)
    return refuse(403, 'This key does not open it: the right one was printed when the server was started.')
  // without an owner nobody is a member: one who was made so far was cut off in the middle of it
  const made = await makeMember(signIn, { name, email, password }, { replace: true })
  if (made === undefined || !(await store.ask('beFirst', { id: made.id, name, address }))) {
    if (made !== undefined) await unmake(signIn, made.id)
    return refuse(409, 'Somebody was first: ask them for an invitation.')
  }
  return signedIn(signIn, request, email, password)
})
