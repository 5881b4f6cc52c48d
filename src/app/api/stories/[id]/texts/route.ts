import { NextResponse } from 'next/server'
import { TEXT_FORMATS, textFormat } from '../../../../../core/formats/texts'
import { languageSchema } from '../../../../../core/story/schema'
import { textRows } from '../../../../../core/texts/rows'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { asFile } from '../../../../server/asked'
import { readBytes } from '../../../../server/request'
import { keptStory } from '../../../../../store/kept-story'

type Params = { readonly id: string }

/** More than all texts of the largest story in one language, in bytes. */
const TEXTS_BYTES = 32 * 1024 * 1024
const FORMATS = TEXT_FORMATS.map(({ id }) => id).join(', ')

/** Every text that can be translated and spoken, by its key; with `language` what it is there, as a file in a `format`. */
export const GET = handler<Params>(async ({ request, store, params: { id } }) => {
  const asked = new URL(request.url).searchParams
  const language = asked.get('language') ?? undefined
  const format = asked.get('format')
  if (language !== undefined && !languageSchema.safeParse(language).success)
    return refuse(400, 'language: a language tag is expected, such as "de"')
  const form = format === null ? undefined : textFormat(format)
  if (format !== null && (form === undefined || language === undefined))
    return refuse(400, `format: one of ${FORMATS} is expected, with a language`)
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const { doc } = kept.linked
  const rows = textRows(kept.linked, language ?? doc.language)
  if (form !== undefined && language !== undefined)
    return new Response(form.write({ title: doc.title, language, own: doc.language, made: new Date() }, rows), {
      headers: { 'Content-Type': form.type, ...asFile(`${doc.title} ${language}`, id, form.ending) },
    })
  const texts = rows.map(({ key, source, text, of, state }) => ({
    key,
    source,
    ...(text === undefined ? {} : { text, state }),
    ...(of === undefined ? {} : { of }),
  }))
  return NextResponse.json({ language: doc.language, revision: kept.revision, texts })
})

/** Reads a file of texts that somebody worked on; nothing goes in: what is in it is answered. */
export const POST = handler<Params>(async ({ request }) => {
  const form = textFormat(new URL(request.url).searchParams.get('format') ?? '')
  if (form === undefined) return refuse(400, `format: one of ${FORMATS} is expected`)
  const bytes = await readBytes(request, TEXTS_BYTES)
  if (!bytes.ok) return bytes.error
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes.value)
  } catch {
    return refuse(422, 'This file is not UTF-8 text; save it as UTF-8 and try again.')
  }
  const read = form.read(text)
  return read.ok ? NextResponse.json(read.value) : refuse(422, read.error)
})
