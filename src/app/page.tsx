import { connection } from 'next/server'
import { Library } from '../views/library/library'
import { store } from './server/store'

export default async function LibraryPage() {
  await connection()
  return <Library first={await (await store()).ask('list', {})} />
}
