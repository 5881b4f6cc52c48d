import { notFound, redirect } from 'next/navigation'
import { connection } from 'next/server'
import { MembersView } from '../../views/members/members'
import { SelfProvider } from '../../views/members/self'
import { Away } from '../../views/shared/away'
import { seated, selfOf } from '../server/page-seat'

export const metadata = { title: 'Members' }

export default async function MembersPage() {
  await connection()
  const seat = await seated()
  if (!seat.ok) return <Away reason={seat.error} />
  if (seat.value.kind !== 'member') redirect('/')
  if (!seat.value.member.isOwner) notFound()
  return (
    <SelfProvider self={selfOf(seat.value)}>
      <MembersView />
    </SelfProvider>
  )
}
