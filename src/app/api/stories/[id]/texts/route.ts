import { NextResponse } from 'next/server'
import { formCalled, formsFor } from '../../../../../core/formats/forms'
import { portOf, readerOfTexts } from '../../../../../core/formats/ports'
import { INCOMING_BYTES } from '../../../../../core/formats/payload'
import { languageSchema } from '../../../../../core/story/schema'
import { rowsToWorkAt } from '../../../../../core/texts/proofs'
import { rowsWithComments } from '../../../../../core/texts/remarks'
import { rowsOfScene, textRows } from '../../../../../core/texts/rows'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile } from '../../../../server/asked'
import { readBytes } from '../../../../server/request'
import { keptStory } from '../../../../../store/kept-story'

type Params = { readonly id: string }

const FORMATS = formsFor('texts')
  .map(({ id }) => id)
  .join(', ')

/**
 * Every text that can be translated and spoken, by its key; with `language` what it is there, as a file in a `format`. In the
 * story's own language the texts are its own; of `scene` only what stands there, with `comments` what is still talked about too.
 */
export const GET = handler<Params>('read', async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const language = asked.get('language') ?? undefined
  const format = asked.get('format')
  if (language !== undefined && !languageSchema.safeParse(language).success)
    return refuse(400, 'language: a language tag is expected, such as "de"')
  const form = format === null ? undefined : formCalled('texts', format)
  if (format !== null && (form === undefined || language === undefined))
    return refuse(400, `format: one of ${FORMATS} is expected, with a language`)
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const { doc } = kept.linked
  const scene = asked.get('scene') ?? undefined
  if (scene !== undefined && !doc.scenes.some((one) => one.id === scene))
    return refuse(400, `scene: there is no scene "${scene}"`)
  if (form !== undefined && language !== undefined) {
    const { write } = await portOf('texts', form)
    const name = [doc.title, scene, language].filter((part) => part !== undefined).join(' ')
    const threads = asked.get('comments') === 'open' ? await store.ask('threads', id) : []
    const rows = rowsWithComments(rowsToWorkAt(kept.linked, language, scene), doc, threads)
    const content = await write({ title: doc.title, language, own: doc.language, made: new Date() }, rows)
    if (!content.ok) return refuse(422, content.error)
    return new Response(content.value as BodyInit, {
      headers: { 'Content-Type': form.type, ...asFile(name, id, form.endings[0]) },
    })
  }
  const rows = rowsOfScene(textRows(kept.linked, language ?? doc.language), scene)
  const texts = rows.map(({ key, source, text, of, state }) => ({
    key,
    source,
    ...(text === undefined ? {} : { text, state }),
    ...(of === undefined ? {} : { of }),
  }))
  return NextResponse.json({ language: doc.language, revision: kept.revision, texts })
})

/** Reads a file of texts that somebody worked on; nothing goes in: what is in it is answered. */
export const POST = handler<Params>('read', async ({ request }) => {
  const read = await readerOfTexts(new URL(request.url).searchParams.get('format') ?? '', true)
  if (read === undefined) return refuse(400, `format: one of ${FORMATS}, markdown is expected`)
  const bytes = await readBytes(request, INCOMING_BYTES)
  if (!bytes.ok) return bytes.error
  const texts = await read(bytes.value)
  return texts.ok ? NextResponse.json(texts.value) : refuse(422, texts.error)
})
