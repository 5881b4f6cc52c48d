import type { LinkedStory } from '../story/linked'
import { Survey } from '../survey/survey'

/** The survey by which a player is bound for an ending, as far as it came until `stop`; what is followed alone leads nowhere else. */
export function playersSurvey(story: LinkedStory, stop: () => boolean, explicit?: number): Survey {
  const survey = new Survey(story, { limits: { isOver: stop }, ...(explicit === undefined ? {} : { explicit }) })
  while (!survey.search.done && survey.inSets === undefined && !survey.advance()) if (stop()) break
  return survey
}
