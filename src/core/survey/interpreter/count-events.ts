import type { LinkedBeat, LinkedStory } from '../../story/linked'
import { digestOf } from '../summaries/beat-summary'
import { thingsOf } from '../summaries/variables'

/** An upper bound of the marks that some beats of a story can have; endings are marks too. */
export function countMarks(story: LinkedStory, beats: readonly LinkedBeat[] = story.beats): number {
  const things = thingsOf(story)
  let marks = 0
  for (const beat of beats) marks += digestOf(story, things, beat).marks
  return marks
}
