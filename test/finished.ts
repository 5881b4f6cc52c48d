import type { LinkedStory } from '../src/core/story/linked'
import type { SurveyOptions } from '../src/core/survey/searches'
import { Survey } from '../src/core/survey/survey'

type Options = Pick<SurveyOptions, 'hot' | 'limits'>

/** Now and then code is written for each beat, or the set of states has pages, some of which become whole. */
export const OPTIONS: readonly Options[] = [
  { hot: 0 },
  { hot: Infinity },
  { hot: Infinity, limits: { stateSet: { whole: 0, dense: 1 } } },
  { hot: 4, limits: { stateSet: { whole: 0, dense: 16 } } },
]

/** A survey that has come to its end, or to where it is cut short. */
export function finished(story: LinkedStory, options: Options, before?: Survey): Survey {
  const survey = new Survey(story, { routes: 'all', ...options }, before)
  for (let round = 0; !survey.advance(1009) && round < 3; round += 1);
  return survey
}

/** What a survey says; how much it takes may differ. */
export function told(survey: Survey) {
  return { ...survey.result(), figures: survey.progress.states }
}
