import { redirect } from 'next/navigation'
import { connection } from 'next/server'
import { Begin } from '../../views/members/newcomer'
import { Away } from '../../views/shared/away'
import { settings } from '../server/access'
import { reading } from '../server/reading'

export const metadata = { title: 'Be the first' }

export default async function BeginPage({ searchParams }: { searchParams: Promise<{ key?: string | string[] }> }) {
  await connection()
  const first = settings() === undefined ? undefined : await reading((store) => store.ask('firstKey'))
  if (first?.ok === false) return <Away reason={first.error} />
  if (first?.value === undefined) redirect('/')
  const { key = '' } = await searchParams
  return <Begin link={[key].flat()[0]!} />
}
