import type { LinkedStory } from '../story/linked'
import { Survey } from '../survey/survey'

/** The survey by which a player is bound for an ending, as far as it came until `stop`: players go from state to state, so it is over single ones. */
export function playersSurvey(story: LinkedStory, stop: () => boolean): Survey {
  const survey = new Survey(story, { explicit: Infinity })
  while (!survey.advance()) if (stop()) break
  return survey
}
