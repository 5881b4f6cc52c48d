import type { LinkedStory } from '../story/linked'
import { digestOf, thingsOf } from './digest'

/** An upper bound of the marks and conditions that a story can have. */
export function countMarks(story: LinkedStory): { marks: number; conditions: number } {
  const things = thingsOf(story)
  let marks = story.endings.length
  let conditions = 0
  for (const beat of story.beats) {
    const digest = digestOf(story, things, beat)
    marks += digest.marks
    conditions += digest.conditions
  }
  return { marks: marks + 64, conditions: conditions + 1 }
}
