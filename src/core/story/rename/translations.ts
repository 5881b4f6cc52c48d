import type { Change, Translations } from '../changes/types'
import type { Story, Translation } from '../types'

/** What is put in place of what in translations: their keys follow what they name, their texts what these show. */
export interface TranslationMapping {
  readonly key: (key: string) => string
  readonly text: (source: string) => string
}

/** The changes that carry a story's translations along. */
export function translationChanges(story: Story, { key: follow, text }: TranslationMapping): Change[] {
  return Object.entries(story.languages ?? {}).flatMap(([language, { texts }]): Change[] => {
    const values: Record<string, Translations[string]> = {}
    const put: [string, Translation][] = []
    for (const [key, translation] of Object.entries(texts)) {
      const to = follow(key)
      const next = textsOf(translation, text)
      if (to !== key) values[key] = null
      if (to !== key || next !== translation) put.push([to, next])
    }
    // what comes to a key counts, also where another has just left it
    for (const [key, translation] of put) values[key] = translation
    return Object.keys(values).length === 0 ? [] : [{ op: 'set-texts', language, values }]
  })
}

function textsOf(translation: Translation, map: (source: string) => string): Translation {
  const next = { ...translation, text: map(translation.text) }
  if (translation.of !== undefined) next.of = map(translation.of)
  return next.text === translation.text && next.of === translation.of ? translation : next
}
