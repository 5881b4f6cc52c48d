import { corridor, questsAroundHub, rivals } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { linkStory } from '../src/core/story/link'
import { checkStory } from '../src/core/story/read'
import { Survey } from '../src/core/survey/survey'
import type { SurveyOptions } from '../src/core/survey/searches'
import { agree } from './agree'
import { withoutWayBack } from './onward-story'
import { itemsOf, plainSurvey } from './plain/checker'
import { seeds } from './seeds'

/** Ways that only large stories go, gone by small ones: what each limit is set to leads past it. */
const SWEPT_ONCE = { listedMax: -1, sweeps: 1, sweepsOne: 1 }
const ONLY_SWEPT = { listedMax: -1, sweeps: 1000, sweepsOne: 1000 }
const SMALL: Readonly<Record<string, SurveyOptions>> = {
  'sweeps, then predecessors': { limits: { backward: SWEPT_ONCE } },
  'sweeps alone': { limits: { backward: ONLY_SWEPT } },
  'pages of states': { limits: { stateSet: { whole: 0, dense: 1 } } },
  'pages of states that soon become whole': { hot: 0, limits: { stateSet: { whole: 0, dense: 1e9 } } },
  'sets given up, single states instead': { explicit: 0, limits: { nodes: 4 } },
}

test('the ways that large stories go agree with the plain checker on small ones', () => {
  let compared = 0
  for (const seed of seeds(80)) {
    const doc = randomStory(seed, 'tiny')
    const checked = checkStory(seed % 3 === 0 ? withoutWayBack(doc) : doc)
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, 300)
    if (plain === undefined) continue
    compared += 1
    agree(seed, story, plain, new Set(), Object.values(SMALL))
  }
  expect(compared).toBeGreaterThan(40)
})

test('on families of stories they say what the usual ways say', () => {
  for (const doc of [questsAroundHub(5), rivals(4), corridor(40, 12)]) {
    const story = linkStory(doc)
    const done = (options: SurveyOptions) => {
      const survey = new Survey(story, { routes: 'all', ...options })
      while (!survey.advance());
      return survey
    }
    const usual = [...itemsOf(done({}).result())].sort()
    for (const [way, options] of Object.entries(SMALL)) {
      const survey = done(options)
      expect({ title: doc.title, way, items: [...itemsOf(survey.result())].sort() }).toEqual({
        title: doc.title,
        way,
        items: usual,
      })
      if (way === 'sets given up, single states instead') expect(survey.isInSets).toBe(false)
    }
  }
})
