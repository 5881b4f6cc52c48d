import type { LinkedBeat, LinkedStory } from '../../story/linked'
import { summaryOf } from '../summaries/summarise'
import { variablesOf } from '../summaries/variables'

/** An upper bound of the events that some beats of a story can have; endings are events too. */
export function countEvents(story: LinkedStory, beats: readonly LinkedBeat[] = story.inOrder): number {
  const variables = variablesOf(story)
  let events = 0
  for (const beat of beats) events += summaryOf(story, variables, beat).events
  return events
}
