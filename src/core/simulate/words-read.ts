import { countWords } from '../base/count-words'
import type { PlayState } from '../play/state'
import { formatText } from '../play/text'
import type { LinkedStory, LinkedText } from '../story/linked'

/** Counts the words of texts as the player reads them. */
export class WordsRead {
  private readonly plain = new Map<LinkedText, number>()
  private readonly filled = new Map<string, number>()

  constructor(private readonly story: LinkedStory) {}

  in(text: LinkedText, state: PlayState): number {
    let words = this.plain.get(text)
    if (words !== undefined) return words
    const shown = formatText(this.story, state, text)
    const isPlain = text.isPlain || text.parsed === undefined || text.parsed.every(({ type }) => type === 0)
    words = this.filled.get(shown) ?? countWords(shown, this.story.doc.language)
    if (isPlain) this.plain.set(text, words)
    else this.filled.set(shown, words)
    return words
  }
}
