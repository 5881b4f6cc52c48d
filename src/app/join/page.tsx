import { redirect } from 'next/navigation'
import { connection } from 'next/server'
import { Join } from '../../views/members/newcomer'
import { SelfProvider } from '../../views/members/self'
import { settings } from '../server/access'
import { selfHere } from '../server/page-seat'

export const metadata = { title: 'You are invited' }

export default async function JoinPage({ searchParams }: { searchParams: Promise<{ key?: string | string[] }> }) {
  await connection()
  const known = settings()
  if (known === undefined) redirect('/')
  const { key = '' } = await searchParams
  return (
    <SelfProvider self={await selfHere()}>
      <Join link={[key].flat()[0]!} provider={known.provider?.name} />
    </SelfProvider>
  )
}
