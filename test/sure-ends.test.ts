import { gatesAcross, questsAroundHub, rivals } from '../bench/stories/families'
import { hubStory } from './hub-story'
import { seeds } from './seeds'
import { seededRandom } from '../src/core/base/random'
import { inOneGo } from '../src/core/base/slices'
import { linkStory } from '../src/core/story/link'
import { Survey } from '../src/core/survey/survey'
import { EMPTY } from '../src/core/survey/symbolic/diagrams/node-table'
import { SureEnds } from '../src/core/survey/symbolic/sure-ends'

test('what is sure to end from a stage can end from every state at it', () => {
  let [sure, others] = [0, 0]
  const knotted = [...seeds(20)].map((seed) => {
    const random = seededRandom(seed)
    return hubStory(random, 2 + random.below(4))
  })
  for (const [number, doc] of [...knotted, questsAroundHub(3), gatesAcross(5, 2), rivals(2)].entries()) {
    const story = linkStory(doc)
    const survey = new Survey(story, { routes: 'none', explicit: 0 })
    while (!survey.advance());
    const search = survey.inSets
    if (search === undefined) continue
    const ends = new SureEnds(search)
    for (const quest of story.quests) {
      const slot = search.search.slots.ofQuest[quest.index]!
      const outcomes = quest.outcomes.flatMap((outcome, stage) => (outcome === undefined ? [] : [stage]))
      const found = ends.of(slot, outcomes, (location) => search.isHeldAt(location, slot))
      const can = inOneGo(search.comingTo(search.havingAny(slot, outcomes)))
      for (const [location, set] of search.reached)
        for (const stage of quest.stages.keys()) {
          if (outcomes.includes(stage)) continue
          const at = search.having(location, set, slot, stage)
          if (at === EMPTY) continue
          const left = search.diagrams.minus(at, can.get(location) ?? EMPTY)
          if (found.get(location)?.has(stage) !== true) others += 1
          else {
            sure += 1
            expect({ number, location, stage, left }).toEqual({ number, location, stage, left: EMPTY })
          }
        }
    }
  }
  expect(sure).toBeGreaterThan(20)
  expect(others).toBeGreaterThan(20)
})
