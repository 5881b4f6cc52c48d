/** Scripts that do not put blanks between words. */
const UNSPACED =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}]/u
const WORD = /[\p{L}\p{N}\p{M}]+(?:['’.-][\p{L}\p{N}\p{M}]+)*/gu

const segmenters = new Map<string, Intl.Segmenter>()

/** The words of a text; where a script has no blanks between them by the rules of the language (Unicode Standard Annex 29), which take longer. */
export function countWords(text: string, language: string): number {
  if (!UNSPACED.test(text)) return text.match(WORD)?.length ?? 0
  let segmenter = segmenters.get(language)
  if (segmenter === undefined)
    segmenters.set(language, (segmenter = new Intl.Segmenter(language, { granularity: 'word' })))
  let words = 0
  for (const { isWordLike } of segmenter.segment(text)) if (isWordLike) words += 1
  return words
}
