import { redirect } from 'next/navigation'
import { connection } from 'next/server'
import { AccountView } from '../../views/members/account'
import { SelfProvider } from '../../views/members/self'
import { Away } from '../../views/shared/away'
import { seated, selfOf } from '../server/page-seat'

export const metadata = { title: 'Your account' }

export default async function AccountPage({ searchParams }: { searchParams: Promise<{ error?: string | string[] }> }) {
  await connection()
  const seat = await seated()
  if (!seat.ok) return <Away reason={seat.error} />
  if (seat.value.kind === 'alone') redirect('/')
  const { error } = await searchParams
  return (
    <SelfProvider self={selfOf(seat.value)}>
      <AccountView {...(error === undefined ? {} : { error: [error].flat()[0]! })} />
    </SelfProvider>
  )
}
