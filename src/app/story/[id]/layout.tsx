import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { headers } from 'next/headers'
import { connection } from 'next/server'
import { cache, type ReactNode } from 'react'
import { allowed } from '../../../accounts/seat'
import { ok } from '../../../core/base/result'
import { openingScript } from '../../../session/first-opening'
import { StoryFrame } from '../../../views/frame/story-frame'
import { SelfProvider } from '../../../views/members/self'
import { Away } from '../../../views/shared/away'
import { known } from '../../server/access'
import { seated, selfOf } from '../../server/page-seat'
import { reading } from '../../server/reading'

interface Props {
  readonly params: Promise<{ id: string }>
  readonly children: ReactNode
}

const titleOf = cache(async (id: string) => {
  await connection()
  const seat = await seated()
  if (!seat.ok) return seat
  const found = await reading(async (store) => {
    const may = await allowed(seat.value, 'read', id, await known())
    return may.ok ? store.ask('titleOf', id) : undefined
  })
  return found.ok ? ok({ title: found.value, self: selfOf(seat.value) }) : found
})

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const found = await titleOf((await params).id)
  return found.ok ? { title: found.value.title ?? 'No such story' } : {}
}

export default async function StoryLayout({ params, children }: Props) {
  const { id } = await params
  const found = await titleOf(id)
  if (!found.ok) return <Away reason={found.error} />
  if (found.value.title === undefined) notFound()
  return (
    <SelfProvider self={found.value.self}>
      <script
        nonce={(await headers()).get('x-nonce') ?? undefined}
        // the browser shows nobody the nonce of a script
        suppressHydrationWarning
        dangerouslySetInnerHTML={{ __html: openingScript(id) }}
      />
      <StoryFrame>{children}</StoryFrame>
    </SelfProvider>
  )
}
