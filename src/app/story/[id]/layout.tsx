import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { connection } from 'next/server'
import { cache, type ReactNode } from 'react'
import { StoryFrame } from '../../../views/frame/story-frame'
import { Away } from '../../../views/shared/away'
import { reading } from '../../server/reading'

interface Props {
  readonly params: Promise<{ id: string }>
  readonly children: ReactNode
}

const titleOf = cache(async (id: string) => {
  await connection()
  return reading((store) => store.ask('titleOf', id))
})

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const title = await titleOf((await params).id)
  return title.ok ? { title: title.value ?? 'No such story' } : {}
}

export default async function StoryLayout({ params, children }: Props) {
  const title = await titleOf((await params).id)
  if (!title.ok) return <Away reason={title.error} />
  if (title.value === undefined) notFound()
  return <StoryFrame>{children}</StoryFrame>
}
