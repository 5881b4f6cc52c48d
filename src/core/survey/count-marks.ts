import type { LinkedBeat, LinkedStory } from '../story/linked'
import { digestOf } from './digest'
import { thingsOf } from './things'

/** An upper bound of the marks and conditions that some beats of a story can have; endings are marks too. */
export function countMarks(story: LinkedStory, beats: readonly LinkedBeat[] = story.beats): { marks: number; conditions: number } {
  const things = thingsOf(story)
  let marks = 0
  let conditions = 0
  for (const beat of beats) {
    const digest = digestOf(story, things, beat)
    marks += digest.marks
    conditions += digest.conditions
  }
  return { marks, conditions }
}
