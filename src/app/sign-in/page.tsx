import { redirect } from 'next/navigation'
import { connection } from 'next/server'
import { SignIn } from '../../views/members/sign-in'
import { settings } from '../server/access'

export const metadata = { title: 'Sign in' }

interface Props {
  readonly searchParams: Promise<{ to?: string | string[]; error?: string | string[] }>
}

export default async function SignInPage({ searchParams }: Props) {
  await connection()
  const known = settings()
  if (known === undefined) redirect('/')
  const { to, error } = await searchParams
  return (
    <SignIn
      to={own([to].flat()[0])}
      provider={known.provider?.name}
      {...(error === undefined ? {} : { error: [error].flat()[0]! })}
    />
  )
}

/** A path of this server: whoever signs in is not led elsewhere. */
function own(path = '/'): string {
  return /^\/(?![/\\])/.test(path) ? path : '/'
}
