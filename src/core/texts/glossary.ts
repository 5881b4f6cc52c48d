import type { TextRow } from './rows'

/** A name or term of the story and what it is in a language. */
export interface TranslatedTerm {
  readonly source: string
  readonly text: string
  /** Finds the name as a whole. */
  readonly stands: RegExp
}

/** Shorter ones stand in too many words. */
const SHORTEST = 3

/** What people, endings, quests, stages and the glossary's terms are called in a language, as far as that is translated; the longest first. */
export function glossaryOf(rows: readonly TextRow[]): TranslatedTerm[] {
  return rows
    .filter(
      ({ key, isName, text, source }) => isName && !key.startsWith('suggest/') && text && source.length >= SHORTEST,
    )
    .map(({ source, text }) => ({
      source,
      text: text!,
      stands: new RegExp(`(?<![\\p{L}\\p{N}])${escapedForRegExp(source)}(?![\\p{L}\\p{N}])`, 'gu'),
    }))
    .sort((a, b) => b.source.length - a.source.length)
}

/** Names that stand in a source and whose translations do not stand in its translation; of a name within another only the longer. */
export function termsMissed(source: string, text: string, glossary: readonly TranslatedTerm[]): TranslatedTerm[] {
  let left = source
  const missed: TranslatedTerm[] = []
  for (const term of glossary) {
    const without = left.replaceAll(term.stands, '')
    if (without === left) continue
    left = without
    if (!text.toLowerCase().includes(term.text.toLowerCase())) missed.push(term)
  }
  return missed
}

function escapedForRegExp(text: string): string {
  return text.replaceAll(/[\\^$.*+?()[\]{}|/]/g, '\\$&')
}
