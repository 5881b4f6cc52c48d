import { connection } from 'next/server'
import { listedTo } from '../../accounts/seat'
import { NightsView } from '../../views/nights/nights'
import { SelfProvider } from '../../views/members/self'
import { Away } from '../../views/shared/away'
import { nightsFor } from '../server/nights'
import { seated, selfOf } from '../server/page-seat'
import { reading } from '../server/reading'

export const metadata = { title: 'The night survey' }

export default async function NightsPage() {
  await connection()
  const seat = await seated()
  if (!seat.ok) return <Away reason={seat.error} />
  const { value } = seat
  const first = await reading((store) => nightsFor(store, listedTo(value)))
  if (!first.ok) return <Away reason={first.error} />
  return (
    <SelfProvider self={selfOf(value)}>
      <NightsView
        first={first.value}
        mayBegin={value.kind === 'alone' || (value.kind === 'member' && value.member.isOwner)}
      />
    </SelfProvider>
  )
}
