import { NextResponse } from 'next/server'
import { formCalled, formsFor } from '../../../../../core/formats/forms'
import { portOf } from '../../../../../core/formats/ports'
import { INCOMING_BYTES } from '../../../../../core/formats/payload'
import { languageSchema } from '../../../../../core/story/schema'
import { spokenValues } from '../../../../../core/survey/questions/spoken-values'
import { voiceRows } from '../../../../../core/voices/script'
import { recordedIn, stillToRecord } from '../../../../../core/voices/takes'
import { keptStory } from '../../../../../store/kept-story'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile, secondsIn } from '../../../../server/asked'
import { betweenRequests, timeIsOver } from '../../../../server/story-of'
import { readBytes } from '../../../../server/request'

const FORMATS = formsFor('voices')
  .map(({ id }) => id)
  .join(', ')

/** What is to be recorded in a language: as JSON, or as a script in a `format`; of a `person` and a `scene`. */
export const GET = handler<{ id: string }>('read', async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const format = asked.get('format')
  const form = format === null ? undefined : formCalled('voices', format)
  if (format !== null && form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const language = asked.get('language')
  if (language !== null && !languageSchema.safeParse(language).success)
    return refuse(400, 'language: a language tag is expected, such as "de"')
  const seconds = secondsIn(asked)
  if (!seconds.ok) return seconds.error
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const { linked } = kept
  const values = await betweenRequests(spokenValues(linked, timeIsOver(seconds.value)))
  const [person, scene] = [asked.get('person'), asked.get('scene')]
  const own = language ?? linked.doc.language
  const recorded = recordedIn(linked.doc, own)
  const all = voiceRows(linked, own, values).filter(
    (row) => (person === null || row.person === person) && (scene === null || row.scene === scene),
  )
  const rows = asked.get('only') === 'open' ? stillToRecord(all, recorded) : all
  if (form === undefined) return NextResponse.json({ complete: values !== 'too many', rows })
  const part = [person === null ? undefined : (rows[0]?.who ?? person), scene ?? undefined].filter(
    (one) => one !== undefined,
  )
  const of = { title: linked.doc.title, language: own, made: new Date(), part: part.join(', '), recorded }
  const content = await (await portOf('voices', form))(of, rows)
  if (!content.ok) return refuse(422, content.error)
  const name = ['voices of', linked.doc.title, ...part, own].join(' ')
  const shown = asked.get('open') === 'here' ? {} : asFile(name, id, form.endings[0])
  return new Response(content.value as BodyInit, {
    headers: { 'Content-Type': form.type, 'Cache-Control': 'no-store', ...shown },
  })
})

/** Reads an earlier recording script: what was recorded, by file. */
export const POST = handler<{ id: string }>('read', async ({ request }) => {
  const bytes = await readBytes(request, INCOMING_BYTES)
  if (!bytes.ok) return bytes.error
  const { readVoicesXlsx } = await import('../../../../../core/formats/voices-xlsx/read')
  const read = await readVoicesXlsx(bytes.value)
  return read.ok ? NextResponse.json(Object.fromEntries(read.value)) : refuse(422, read.error)
})
