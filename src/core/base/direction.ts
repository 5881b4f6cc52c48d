/** Languages that are written from right to left, by the first part of their tags. */
const RIGHT_TO_LEFT: ReadonlySet<string> = new Set('ar arc ckb dv fa he ks ps sd syr ug ur yi'.split(' '))
/** Scripts that are, where a tag names one. */
const SCRIPTS: ReadonlySet<string> = new Set(['Arab', 'Hebr', 'Syrc', 'Thaa'])

/** How a language is written, by its tag. */
export function directionOf(language: string): 'ltr' | 'rtl' {
  const [first, second] = language.split('-')
  if (second?.length === 4) return SCRIPTS.has(second) ? 'rtl' : 'ltr'
  return RIGHT_TO_LEFT.has(first!) ? 'rtl' : 'ltr'
}
