import { fileName } from '../../../../../core/base/file-name'
import { handler, NO_STORY, refuse } from '../../../../server/answers'

export const GET = handler<{ id: string }>(async ({ store, params }) => {
  const written = await store.ask('exportText', params.id)
  if (written === undefined) return refuse(404, NO_STORY)
  const { ascii, full } = fileName(written.title, params.id.slice(0, 8), '.story.json')
  return new Response(written.text, {
    headers: {
      'Content-Type': 'application/json; charset=utf-8',
      'Content-Disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(full)}`,
    },
  })
})
