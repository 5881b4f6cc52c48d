import { redirect } from 'next/navigation'

export default async function StoryPage({ params }: { params: Promise<{ id: string }> }) {
  redirect(`/story/${(await params).id}/desk`)
}
