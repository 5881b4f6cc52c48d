import type { Language, Story, Translation } from '../core/story/types'

type Languages = Story['languages']

/** One text in another language, as it is kept. */
export interface HeldText {
  /** Tells texts apart while lists of them are held against each other. */
  readonly id: string
  readonly language: string
  readonly key: string
  readonly is: Translation
}

/** The texts of a story in all its other languages, one after another; the same text is the same object each time. */
export class HeldTexts {
  private readonly held = new WeakMap<object, Map<string, HeldText>>()

  of(languages: Languages): HeldText[] {
    return Object.entries(languages ?? {}).flatMap(([language, { texts }]) =>
      Object.entries(texts).map(([key, is]) => this.holding({ id: `${language} ${key}`, language, key, is })),
    )
  }

  holding(text: HeldText): HeldText {
    let same = this.held.get(text.is)
    if (same === undefined) this.held.set(text.is, (same = new Map()))
    const held = same.get(text.id)
    if (held !== undefined) return held
    same.set(text.id, text)
    return text
  }
}

/** The same languages with what they say of themselves alone; the very same object where they have no texts. */
export function textlessLanguages(languages: Languages): Languages {
  const all = Object.entries(languages ?? {})
  if (all.every(([, { texts }]) => Object.keys(texts).length === 0)) return languages
  return Object.fromEntries(all.map(([tag, language]): [string, Language] => [tag, { ...language, texts: {} }]))
}

/** A story with the texts of its languages put back, in their order. */
export function withTexts(story: Story, held: readonly HeldText[]): Story {
  const texts = new Map<string, [string, Translation][]>()
  for (const { language, key, is } of held) {
    const list = texts.get(language)
    if (list === undefined) texts.set(language, [[key, is]])
    else list.push([key, is])
  }
  const languages = Object.entries(story.languages ?? {}).map(([tag, language]): [string, Language] => [
    tag,
    { ...language, texts: Object.fromEntries(texts.get(tag) ?? Object.entries(language.texts)) },
  ])
  return { ...story, languages: Object.fromEntries(languages) }
}
