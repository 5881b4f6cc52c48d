import type { PlayState } from '../play/state'
import { formatText } from '../play/text'
import type { LinkedStory, LinkedText } from '../story/linked'

/** Counts the words of texts as the player reads them, by the rules of the story's language (Unicode Standard Annex 29). */
export class WordsRead {
  private readonly segmenter: Intl.Segmenter
  private readonly plain = new Map<LinkedText, number>()
  private readonly filled = new Map<string, number>()

  constructor(private readonly story: LinkedStory) {
    this.segmenter = new Intl.Segmenter(story.doc.language, { granularity: 'word' })
  }

  in(text: LinkedText, state: PlayState): number {
    let words = this.plain.get(text)
    if (words !== undefined) return words
    const shown = formatText(this.story, state, text)
    const isPlain = text.parsed === undefined || text.parsed.every(({ type }) => type === 0)
    words = this.filled.get(shown) ?? this.count(shown)
    if (isPlain) this.plain.set(text, words)
    else this.filled.set(shown, words)
    return words
  }

  count(text: string): number {
    let words = 0
    for (const { isWordLike } of this.segmenter.segment(text)) if (isWordLike) words += 1
    return words
  }
}
