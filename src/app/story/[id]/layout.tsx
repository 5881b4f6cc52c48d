import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { connection } from 'next/server'
import { cache, type ReactNode } from 'react'
import { StoryFrame } from '../../../views/frame/story-frame'
import { store } from '../../server/store'

interface Props {
  readonly params: Promise<{ id: string }>
  readonly children: ReactNode
}

const titleOf = cache(async (id: string) => {
  await connection()
  return (await store()).ask('titleOf', id)
})

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: (await titleOf((await params).id)) ?? 'No such story' }
}

export default async function StoryLayout({ params, children }: Props) {
  if ((await titleOf((await params).id)) === undefined) notFound()
  return <StoryFrame>{children}</StoryFrame>
}
