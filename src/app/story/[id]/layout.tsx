import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { connection } from 'next/server'
import type { ReactNode } from 'react'
import { StoryFrame } from '../../../views/frame/story-frame'
import { store } from '../../server/store'

interface Props {
  readonly params: Promise<{ id: string }>
  readonly children: ReactNode
}

async function find(params: Props['params']) {
  await connection()
  const { stories } = await store()
  return stories.open((await params).id)
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const open = await find(params)
  return { title: open?.story.title ?? 'No such story' }
}

export default async function StoryLayout({ params, children }: Props) {
  if ((await find(params)) === undefined) notFound()
  return <StoryFrame>{children}</StoryFrame>
}
