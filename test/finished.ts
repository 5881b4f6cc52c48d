import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import type { Story } from '../src/core/story/types'
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

/**
 * The survey of a story after an edit, which takes over what it can from the one before, and one from the beginning: they have to say the
 * same. `which` tells whoever reads that they don't of which edit.
 */
export function afterEdit(
  story: Story,
  options: Options,
  before: Survey,
  which: object,
): { readonly survey: Survey; readonly fresh: Survey } {
  const survey = finished(linkStory(story, before.story), options, before)
  const fresh = finished(linkStory(story), { hot: Infinity })
  expect({ ...which, ...told(survey) }).toEqual({ ...which, ...told(fresh) })
  return { survey, fresh }
}

/** What a survey says; how much it takes may differ. */
export function told(survey: Survey) {
  return { ...survey.result(), figures: survey.progress.states }
}
