/** A story of two beats: lines at the quay, and home from there. */
export function shortStory(title: string, ...lines: readonly string[]) {
  return {
    paperCompass: 1 as const,
    title,
    language: 'en',
    start: 'quay.here',
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'here',
            lines: lines.map((text) => ({ text })),
            choices: [{ id: 'go', text: 'Go', to: 'quay.end' }],
          },
          { id: 'end', ending: 'home' },
        ],
      },
    ],
  }
}
