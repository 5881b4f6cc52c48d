import { connection } from 'next/server'
import { Library } from '../views/library/library'
import { Away } from '../views/shared/away'
import { reading } from './server/reading'

export default async function LibraryPage() {
  await connection()
  const first = await reading((store) => store.ask('list', {}))
  return first.ok ? <Library first={first.value} /> : <Away reason={first.error} />
}
