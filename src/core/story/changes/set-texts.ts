import { isSame } from '../../base/same'
import { fail, ok, type Result } from '../../base/result'
import { clashed } from './replace'
import type { Applied, Change, Translations } from './types'
import type { Language, Story } from '../types'

/** Sets and takes away translations of one language; what another changed meanwhile is told, with both. */
export function applySetTexts(story: Story, { language, values, was }: Change & { op: 'set-texts' }): Result<Applied> {
  const held = story.languages?.[language]
  const texts = { ...held?.texts }
  const before: Record<string, Translations[string]> = {}
  for (const [key, value] of Object.entries(values)) {
    const now = Object.hasOwn(texts, key) ? texts[key]! : null
    if (was !== undefined && Object.hasOwn(was, key) && !isSame(was[key], now) && !isSame(now, value))
      return fail(clashed(`"${key}" in "${language}"`, { where: '', mine: value?.text, theirs: now?.text }))
    before[key] = now
    if (value === null) delete texts[key]
    else texts[key] = value
  }
  return ok({
    story: withLanguage(story, language, { ...held, texts }),
    change: { op: 'set-texts', language, values },
    inverse: { op: 'set-texts', language, values: before },
  })
}

/** A language whose last text is taken away, and that holds nothing else, is none. */
function withLanguage(story: Story, tag: string, language: Language): Story {
  const isEmpty = Object.keys(language.texts).length === 0 && Object.keys(language).length === 1
  const entries = Object.entries(story.languages ?? {})
  const next = entries.flatMap(([key, one]) =>
    key !== tag ? [[key, one] as const] : isEmpty ? [] : [[key, language] as const],
  )
  if (!isEmpty && entries.every(([key]) => key !== tag)) next.push([tag, language])
  if (next.length > 0) return { ...story, languages: Object.fromEntries(next) }
  const rest = { ...story }
  delete rest.languages
  return rest
}
