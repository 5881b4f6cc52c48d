import { seededRandom } from '../src/core/base/random'
import { linkStory } from '../src/core/story/link'
import { checkStory } from '../src/core/story/read'
import { Survey } from '../src/core/survey/survey'
import type { SurveyOptions } from '../src/core/survey/searches'
import { agree, IN_SETS, inSetsBy } from './agree'
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

test('a way that asks a counter for two values is none', () => {
  const story = linkStory({
    paperCompass: 1,
    title: 'Two tolls',
    language: 'en',
    start: 'quay.gate',
    ledger: [{ id: 'toll', kind: 'counter', min: 0, max: 20 }],
    endings: [{ id: 'home', name: 'Home' }],
    scenes: [
      {
        id: 'quay',
        title: 'Quay',
        beats: [
          {
            id: 'gate',
            choices: [
              ...[3, 4].map((toll) => ({ id: `pay${toll}`, text: 'Pay', do: [`toll = ${toll}`], to: 'quay.gate' })),
              {
                id: 'go',
                text: 'Go',
                when: 'toll == 3',
                to: [{ when: 'toll == 4', to: 'quay.odd' }, { to: 'quay.end' }],
              },
            ],
          },
          { id: 'odd', ending: 'home' },
          { id: 'end', ending: 'home' },
        ],
      },
    ],
  })
  const [sets, single] = [IN_SETS, { explicit: Infinity }].map((how) => {
    const survey = new Survey(story, how)
    while (!survey.advance());
    const { reached, figures } = survey.result()
    return { beats: Object.keys(reached.beats).sort(), states: figures.states }
  })
  expect(sets!.beats).toEqual(['quay.end', 'quay.gate'])
  expect(sets).toEqual(single)
})
