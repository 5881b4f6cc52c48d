import { connection } from 'next/server'
import { allowed, listedTo } from '../../accounts/seat'
import { NightsView } from '../../views/nights/nights'
import { SelfProvider } from '../../views/members/self'
import { Away } from '../../views/shared/away'
import { known } from '../server/access'
import { nightsFor } from '../server/nights'
import { seated, selfOf } from '../server/page-seat'
import { reading } from '../server/reading'

export const metadata = { title: 'The night survey' }

export default async function NightsPage() {
  await connection()
  const seat = await seated()
  if (!seat.ok) return <Away reason={seat.error} />
  const { value } = seat
  const first = await reading(async (store) => ({
    nights: await nightsFor(store, listedTo(value)),
    mayBegin: (await allowed(value, 'steward', undefined, await known())).ok,
  }))
  if (!first.ok) return <Away reason={first.error} />
  return (
    <SelfProvider self={selfOf(value)}>
      <NightsView first={first.value.nights} mayBegin={first.value.mayBegin} />
    </SelfProvider>
  )
}
