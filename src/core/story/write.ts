import type { Story } from './types'

/** The text of a story file: JSON, two spaces deep, a newline at the end. */
export function writeStory(story: Story): string {
  return `${JSON.stringify(story, null, 2)}\n`
}
