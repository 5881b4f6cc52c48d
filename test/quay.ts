import type { Beat, Choice, Story } from '../src/core/story/types'

/** A small story about a quay, for tests that say only what matters to them: its beats, and what is other. */
export function quay(beats: readonly Beat[], more: Partial<Story> = {}): Story {
  return {
    paperCompass: 1,
    title: 'A quay',
    language: 'en',
    start: 'quay.here',
    endings: [{ id: 'across', name: 'Across' }],
    scenes: [{ id: 'quay', title: 'Quay', beats: [...beats] }],
    ...more,
  }
}

/** A choice that leads to a beat there, and is called as it is. */
export function to(id: string, keys: Partial<Choice> = {}): Choice {
  return { id, text: id, to: `quay.${id}`, ...keys }
}
