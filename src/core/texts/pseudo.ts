import { textPieces } from '../story/text-codes'
import type { Translations } from '../story/changes/types'
import type { TextRow } from './rows'

/** The tag of a language that nobody speaks, beside a story's own: made of its texts, to see what will not hold. */
export function pseudoTag(own: string): string {
  return `${own.split('-')[0]!}-x-pseudo`
}

const LETTERS = new Map(
  [...'AaBbCcDdEeGgIiJjKkLlNnOoRrSsTtUuYyZz'].map((letter, at) => [
    letter,
    [...'ÅåßƀÇçĐđÊêĞğÎîĴĵĶķĻļÑñÖöŘřŠšŦŧÛûÝýŽž'][at]!,
  ]),
)
/** How much longer words get: as much as English grows in most languages (W3C, Text size in translation). */
const LONGER = 0.35

/** Every text with foreign letters, longer, and between marks that show where it is cut; what the story puts in stays. */
export function pseudoTexts(rows: readonly TextRow[]): Translations {
  return Object.fromEntries(
    rows.filter(({ source }) => source !== '').map(({ key, source }) => [key, { text: pseudo(source), of: source }]),
  )
}

function pseudo(source: string): string {
  let letters = 0
  const written = textPieces(source).map(({ of, text }) => {
    if (of === 'code') return text
    letters += [...text].length
    return [...text].map((sign) => LETTERS.get(sign) ?? sign).join('')
  })
  return `⟦${written.join('')}${'·'.repeat(Math.max(1, Math.round(letters * LONGER)))}⟧`
}
