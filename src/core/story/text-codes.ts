import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser'

/** A stretch of a text as it is written: words, or what is not for translating (`{name}`, `{rope, plural, one {`, `#`, `}`). */
export interface TextPiece {
  readonly of: 'words' | 'code'
  readonly text: string
}

function parsed(source: string): readonly MessageFormatElement[] | undefined {
  if (!/[{}'#]/.test(source)) return undefined
  try {
    return parse(source, { ignoreTag: true, captureLocation: true })
  } catch {
    return undefined
  }
}

/** The stretches of a text, which joined are the text; one that can't be read is words alone. */
export function textPieces(source: string): TextPiece[] {
  const elements = parsed(source)
  if (elements === undefined) return source === '' ? [] : [{ of: 'words', text: source }]
  const pieces: TextPiece[] = []
  let at = 0
  const upTo = (end: number, of: TextPiece['of']) => {
    if (end > at) pieces.push({ of, text: source.slice(at, end) })
    at = Math.max(at, end)
  }
  const walk = (inside: readonly MessageFormatElement[]) => {
    for (const element of inside) {
      const { start, end } = element.location!
      // what stands between two elements belongs to the braces around them
      upTo(start.offset, 'code')
      if (element.type === TYPE.literal) upTo(end.offset, 'words')
      else if (element.type === TYPE.plural || element.type === TYPE.select)
        for (const { value, location } of Object.values(element.options)) {
          upTo(location!.start.offset + 1, 'code')
          walk(value)
          upTo(location!.end.offset - 1, 'code')
        }
      upTo(end.offset, 'code')
    }
  }
  walk(elements)
  upTo(source.length, 'words')
  return pieces
}

/** A text with a form for every plural category of a language, each that was missing as `other` is; unchanged where none is. */
export function withCategories(source: string, language: string): string {
  const elements = parsed(source)
  if (elements === undefined) return source
  const inserts: { readonly at: number; readonly text: string }[] = []
  const walk = (inside: readonly MessageFormatElement[]) => {
    for (const element of inside) {
      if (element.type !== TYPE.plural && element.type !== TYPE.select) continue
      for (const { value } of Object.values(element.options)) walk(value)
      const other = element.options['other']?.location
      if (element.type !== TYPE.plural || other === undefined) continue
      const form = source.slice(other.start.offset, other.end.offset)
      const type = element.pluralType ?? 'cardinal'
      const missing = categoriesOf(language, type).filter((key) => element.options[key] === undefined)
      // forms inside forms are copied as they are
      for (const key of missing) inserts.push({ at: other.end.offset, text: ` ${key} ${form}` })
    }
  }
  walk(elements)
  let text = source
  for (const insert of inserts.sort((a, b) => b.at - a.at))
    text = text.slice(0, insert.at) + insert.text + text.slice(insert.at)
  return text
}

const CATEGORIES = ['zero', 'one', 'two', 'few', 'many', 'other'] as const

/** By which forms a language counts, in the order in which they are named; of one that is not known, one and other. */
export function categoriesOf(language: string, type: 'cardinal' | 'ordinal' = 'cardinal'): readonly string[] {
  const found = new Intl.PluralRules([language, 'en'], { type }).resolvedOptions().pluralCategories
  return CATEGORIES.filter((key) => found.includes(key))
}
