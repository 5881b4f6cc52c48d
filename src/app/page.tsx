import { connection } from 'next/server'
import { listedTo } from '../accounts/seat'
import { Library } from '../views/library/library'
import { SelfProvider } from '../views/members/self'
import { Away } from '../views/shared/away'
import { seated, selfOf } from './server/page-seat'
import { reading } from './server/reading'

export default async function LibraryPage() {
  await connection()
  const seat = await seated()
  if (!seat.ok) return <Away reason={seat.error} />
  const first = await reading((store) => store.ask('list', listedTo(seat.value)))
  if (!first.ok) return <Away reason={first.error} />
  return (
    <SelfProvider self={selfOf(seat.value)}>
      <Library first={first.value} />
    </SelfProvider>
  )
}
