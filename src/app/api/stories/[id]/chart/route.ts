import { NextResponse } from 'next/server'
import { formCalled, formsFor } from '../../../../../core/formats/forms'
import { portOf } from '../../../../../core/formats/ports'
import { keptStory } from '../../../../../store/kept-story'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile } from '../../../../server/asked'

const FORMATS = formsFor('chart')
  .map(({ id }) => id)
  .join(', ')

/** The story as a state chart in a `format`; with `only=left` what of it such a chart can not express. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const form = formCalled('chart', asked.get('format') ?? '')
  if (form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const { text, left } = (await portOf('chart', form))(kept.linked)
  if (asked.get('only') === 'left') return NextResponse.json({ left })
  const file = asFile(kept.linked.doc.title, id, form.endings[0])
  return new Response(text, { headers: { 'Content-Type': form.type, 'Cache-Control': 'no-store', ...file } })
})
