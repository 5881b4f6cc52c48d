import { sideQuests } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { linkStory } from '../src/core/story/link'
import { checkStory } from '../src/core/story/read'
import { Survey, surveyStory } from '../src/core/survey/survey'
import { agree, statesFor } from './agree'
import { withoutWayBack } from './onward-story'
import { itemsOf, plainSurvey } from './plain/checker'
import { seeds } from './seeds'

const SEEDS = 600
const ONWARD_SEEDS = 150

test('the fast survey and the plain one agree on generated stories, with and without its reductions, and every route replays', () => {
  let compared = 0
  let coded = 0
  const kinds = new Set<string>()
  for (const seed of seeds(SEEDS)) {
    const checked = checkStory(randomStory(seed, 'tiny'))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, statesFor(story))
    if (plain === undefined) continue
    compared += 1
    coded += agree(seed, story, plain, kinds)
  }
  expect(compared).toBeGreaterThan(SEEDS * 0.7)
  expect(coded).toBeGreaterThan(SEEDS / 4)
  // the generated stories show every kind of finding
  expect([...kinds].sort()).toEqual([
    'always-open',
    'dead-end',
    'endless-run',
    'left-open',
    'no-way-out',
    'overrun',
    'problem',
    'promise-broken',
    'route-broken',
    'stranded-stage',
    'undeclared-move',
    'unreached',
    'unread',
    'unset-text',
    'unwritten',
  ])
})

test('they agree where quests become final on the way, and what was noted on one road is shared by others', () => {
  let compared = 0
  let left = 0
  for (const seed of seeds(ONWARD_SEEDS)) {
    const checked = checkStory(withoutWayBack(randomStory(seed, 'tiny')))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    if (story.scenes.length === 1) continue
    const plain = plainSurvey(story, statesFor(story))
    if (plain === undefined) continue
    compared += 1
    const kinds = new Set<string>()
    agree(seed, story, plain, kinds)
    if (kinds.has('left-open') || kinds.has('stranded-stage')) left += 1
  }
  expect(compared).toBeGreaterThan(ONWARD_SEEDS / 4)
  expect(left).toBeGreaterThan(ONWARD_SEEDS / 20)
})

test('optional quests whose scenes share an ending do not multiply one another', () => {
  const states = [2, 3, 20, 40].map((count) => {
    const story = linkStory(sideQuests(count))
    const plain = plainSurvey(story, 1000)
    if (plain !== undefined) agree(count, story, plain, new Set())
    const result = surveyStory(story)
    expect(result.findings.filter(({ kind }) => kind === 'left-open').length).toBe(count)
    return { states: result.figures.states, compared: plain !== undefined }
  })
  expect(states[0]!.compared).toBe(true)
  expect(states[3]!.states).toBeLessThan(states[2]!.states * 2.2)
})

test('a survey that is cut short is never wrong, and says what it has not decided', () => {
  for (const seed of seeds(150)) {
    const checked = checkStory(randomStory(seed, 'small'))
    if (!checked.ok) throw new Error('malformed')
    const story = linkStory(checked.value)
    let asked = 0
    // expanded in strides of 2048 states, so cut by hand
    const full = surveyStory(story, {}, () => (asked += 1) > 40)
    if (!full.complete || full.figures.states < 20) continue
    const part = cutShort(story, Math.floor(full.figures.states / 3))
    expect(part.complete).toBe(false)
    // What can still come may be decided first for a state that is not the nearest one, so lengths are left out.
    const plain = (items: Iterable<string>) =>
      [...items].map((item) => item.replace(/^((?:no-way-out|stranded-stage|promise-broken) .*) in \d+$/, '$1'))
    const all = new Set(plain(itemsOf(full)))
    for (const item of plain(itemsOf(part))) {
      if (!/^promise \S+ undecided$/.test(item))
        expect({ seed, item, known: all.has(item) }).toEqual({ seed, item, known: true })
    }
    for (const what of ['beats', 'choices', 'endings', 'stages'] as const) {
      const decided = [...Object.keys(part.reached[what]), ...part.unreached[what], ...part.undecided[what]].sort()
      expect(decided).toEqual([...Object.keys(full.reached[what]), ...full.unreached[what]].sort())
    }
  }
})

function cutShort(story: ReturnType<typeof linkStory>, states: number) {
  const survey = new Survey(story)
  survey.advance(states)
  return survey.result()
}
