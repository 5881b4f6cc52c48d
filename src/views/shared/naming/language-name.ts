/** What a language is called in English, and its tag where that is other. */
export function languageName(tag: string): string {
  if (tag.endsWith('-x-pseudo')) return `Pseudo-language (${tag})`
  try {
    const name = new Intl.DisplayNames(['en'], { type: 'language' }).of(tag)
    return name === undefined || name === tag ? tag : `${name} (${tag})`
  } catch {
    return tag
  }
}
