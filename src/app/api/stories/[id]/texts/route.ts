import { NextResponse } from 'next/server'
import { sourcesOf } from '../../../../../core/story/languages'
import { declareStory } from '../../../../../core/story/declare'
import { languageSchema } from '../../../../../core/story/schema'
import { handler, NO_STORY, refuse } from '../../../../server/answers'
import { keptStory } from '../../../../server/story-of'

/** Every text that can be translated and spoken, by its key; with `language` what it is there. */
export const GET = handler<{ id: string }>(async ({ request, store, params: { id } }) => {
  const language = new URL(request.url).searchParams.get('language') ?? undefined
  if (language !== undefined && !languageSchema.safeParse(language).success)
    return refuse(400, 'language: a language tag is expected, such as "de"')
  const kept = await keptStory(store, id)
  if (kept === undefined) return refuse(404, NO_STORY)
  const { doc, beats, journals } = kept.linked
  const translated = language === undefined ? {} : (doc.languages?.[language]?.texts ?? {})
  const texts = [...sourcesOf(declareStory(doc), beats, journals)].map(([key, source]) => {
    const there = Object.hasOwn(translated, key) ? translated[key] : undefined
    return {
      key,
      source: source.kind === 'name' ? source.source : source.text.source,
      ...(there === undefined ? {} : { text: there.text, of: there.of, state: there.state ?? 'draft' }),
    }
  })
  return NextResponse.json({ language: doc.language, revision: kept.revision, texts })
})
