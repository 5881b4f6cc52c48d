import { idFrom } from '../../../../../core/base/ids'
import { writeStory } from '../../../../../core/story/write'
import { refuse } from '../../../../server/answers'
import { store } from '../../../../server/store'

export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }) {
  const { stories } = await store()
  const open = await stories.open((await params).id)
  if (open === undefined) return refuse(404, 'There is no story at this address; it may have been deleted.')
  return new Response(writeStory(open.story), {
    headers: {
      'Content-Type': 'application/json; charset=utf-8',
      'Content-Disposition': `attachment; filename="${idFrom(open.story.title, 'story')}.story.json"`,
    },
  })
}
