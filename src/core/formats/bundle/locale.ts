import type { BundleLocale, PluralRules } from './format'
import { CARDINALS, ORDINALS } from './plural-data'

/** What has to be known of a language to write whole numbers and choose their forms without a library. */
export function localeOf(language: string): BundleLocale {
  const format = new Intl.NumberFormat(language)
  const groups = (value: number) =>
    format.formatToParts(value).flatMap(({ type, value: part }) => (type === 'integer' ? [[...part].length] : []))
  const million = groups(1_234_567_890)
  const last = million.at(-1)!
  const before = million.length > 1 ? (million.at(-2) ?? last) : last
  // the digits that must stand before the last group: 1,000 but 1000 and 10 000
  const least = [1, 2, 3].find((digits) => groups(10 ** (last + digits - 1)).length > 1) ?? 1
  const [prefix = '', suffix = ''] = format.format(-7).split(format.format(7))
  return {
    cardinal: rulesFor(language, CARDINALS),
    ordinal: rulesFor(language, ORDINALS),
    digits: Array.from({ length: 10 }, (_, digit) => format.format(digit)),
    group: format.formatToParts(1_234_567_890).find(({ type }) => type === 'group')?.value ?? '',
    groups: [last, before, least],
    negative: [prefix, suffix],
  }
}

/** The rules of a language tag: those of all of it, or of as much of its beginning as there are rules for. */
function rulesFor(language: string, table: Readonly<Record<string, PluralRules>>): PluralRules {
  const parts = language.split('-')
  for (let length = parts.length; length > 0; length -= 1) {
    const tag = parts.slice(0, length).join('-')
    for (const [languages, rules] of Object.entries(table)) if (languages.split(' ').includes(tag)) return rules
  }
  return []
}
