import type { Beat, Story } from '../src/core/story/types'

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
