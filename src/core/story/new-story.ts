import type { Story } from './types'

/** A story to begin with: one scene with one empty beat, which is the first. */
export function newStory(title: string, language = 'en'): Story {
  return {
    paperCompass: 1,
    title,
    language,
    start: 'opening.first',
    endings: [],
    scenes: [{ id: 'opening', title: 'Opening', beats: [{ id: 'first', lines: [{ text: '' }] }] }],
  }
}
