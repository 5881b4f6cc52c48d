import { seededRandom } from '../src/core/base/random'
import { linkStory } from '../src/core/story/link'
import { checkStory } from '../src/core/story/read'
import { Survey } from '../src/core/survey/survey'
import type { SurveyOptions } from '../src/core/survey/searches'
import { agree, inSetsBy } from './agree'
import { plainSurvey } from './plain/checker'
import { purseStory } from './purse-story'
import { seeds } from './seeds'

test('counters looked at for many values at once say what each value says, whatever is added to them and asked of them', () => {
  let compared = 0
  const kinds = new Set<string>()
  for (const seed of seeds(80)) {
    const checked = checkStory(purseStory(seededRandom(seed)))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, 800)
    if (plain === undefined) continue
    compared += 1
    const { limits } = inSetsBy(seed)
    const ranged = { explicit: 0, limits: { ...limits, many: 2 } }
    agree(seed, story, plain, kinds, [ranged])
    const statesBy = (options: SurveyOptions) => {
      const survey = new Survey(story, { routes: 'none', ...options })
      while (!survey.advance());
      return survey.brief().figures.states
    }
    expect({ seed, states: statesBy(ranged) }).toEqual({ seed, states: statesBy({ explicit: Infinity }) })
  }
  expect(compared).toBeGreaterThan(35)
  expect([...kinds]).toEqual(
    expect.arrayContaining(['overrun', 'dead-end', 'always-open', 'endless-run', 'stranded-stage', 'promise-broken']),
  )
})
