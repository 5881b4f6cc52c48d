/** Languages that are written from right to left, by the first part of their tags. */
const RIGHT_TO_LEFT: ReadonlySet<string> = new Set('ar arc ckb dv fa he ks ps sd syr ug ur yi'.split(' '))

export function directionOf(language: string): 'ltr' | 'rtl' {
  return RIGHT_TO_LEFT.has(language.split('-')[0]!) ? 'rtl' : 'ltr'
}

/** What a language is called in English, and its tag where that is other. */
export function languageName(tag: string): string {
  try {
    const name = new Intl.DisplayNames(['en'], { type: 'language' }).of(tag)
    return name === undefined || name === tag ? tag : `${name} (${tag})`
  } catch {
    return tag
  }
}
