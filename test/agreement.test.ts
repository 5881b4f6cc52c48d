import { corridor, ordinary, questsAroundHub, rivals, sideQuests, unevenBudget } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { replay } from '../src/core/play/replay'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import { checkStory } from '../src/core/story/read'
import type { Decision } from '../src/core/story/types'
import { Survey, surveyStory, type SurveyOptions } from '../src/core/survey/survey'
import { withoutWayBack } from './onward-story'
import { itemsOf, plainSurvey, type PlainResult } from './plain/checker'

/** Stories with more concrete states than this are left to others: the plain checker is slow. */
const STATES_MAX = 400
const SEEDS = 2000
const ONWARD_SEEDS = 400
/** With the reductions and without, each beat interpreted, or run as code that is written for it: while nothing was seen to happen yet, or when most was. */
const WAYS = [{ liveness: true, hot: Infinity }, { liveness: true, hot: 0 }, { liveness: false, hot: 3 }]
/** States looked at in sets alone. */
const IN_SETS = { explicit: 0 }

test('the fast survey and the plain one agree on generated stories, with and without its reductions, and every route replays', () => {
  let compared = 0
  let coded = 0
  const kinds = new Set<string>()
  for (let seed = 1; seed <= SEEDS; seed += 1) {
    const checked = checkStory(randomStory(seed, 'tiny'))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, STATES_MAX)
    if (plain === undefined) continue
    compared += 1
    coded += agree(seed, story, plain, kinds)
  }
  expect(compared).toBeGreaterThan(SEEDS * 0.7)
  expect(coded).toBeGreaterThan(SEEDS / 4)
  // the generated stories show every kind of finding
  expect([...kinds].sort()).toEqual([
    'always-open', 'dead-end', 'endless-run', 'left-open', 'no-way-out', 'overrun', 'problem', 'promise-broken', 'route-broken',
    'stranded-stage', 'undeclared-move', 'unreached', 'unread', 'unset-text', 'unwritten',
  ])
}, 400_000)

test('they agree where quests become final on the way, and what was noted on one road is shared by others', () => {
  let compared = 0
  let left = 0
  for (let seed = 1; seed <= ONWARD_SEEDS; seed += 1) {
    const checked = checkStory(withoutWayBack(randomStory(seed, 'tiny')))
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    if (story.scenes.length === 1) continue
    const plain = plainSurvey(story, STATES_MAX)
    if (plain === undefined) continue
    compared += 1
    const kinds = new Set<string>()
    agree(seed, story, plain, kinds)
    if (kinds.has('left-open') || kinds.has('stranded-stage')) left += 1
  }
  expect(compared).toBeGreaterThan(ONWARD_SEEDS / 4)
  expect(left).toBeGreaterThan(ONWARD_SEEDS / 20)
}, 200_000)

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

test('sets of states say what single states say, also where there are too many for the plain checker', () => {
  const stories = [questsAroundHub(6), rivals(4), rivals(5), unevenBudget(11, 30), corridor(60, 20), ordinary(300), sideQuests(15)]
  for (let seed = 1; seed <= 24; seed += 1) stories.push(randomStory(seed))
  let compared = 0
  for (const [number, doc] of stories.entries()) {
    const story = linkStory(doc)
    const single = new Survey(story, { routes: 'every' })
    for (let round = 0; round < 20 && !single.advance(); round += 1);
    const sets = new Survey(story, { routes: 'every', ...IN_SETS })
    if (!single.search.done) continue
    while (!sets.advance());
    if (!sets.isInSets) continue
    compared += 1
    const [expected, found] = [single.result(), sets.result()]
    expect({ number, items: [...itemsOf(found)].sort(), states: found.figures.states }).toEqual({ number, items: [...itemsOf(expected)].sort(), states: expected.figures.states })
    for (const { kind, route } of found.findings) if (route !== undefined && kind !== 'route-broken') expect({ number, kind, refused: replay(story, route).refused }).toEqual({ number, kind, refused: undefined })
  }
  expect(compared).toBeGreaterThan(20)
}, 120_000)

test('a dozen quests open at once are decided, with the shortest routes', () => {
  const open = questsAroundHub(12)
  const [hub] = open.scenes
  const [start, end] = hub!.beats
  // one of them can be lost, and nobody has thought of that
  const story = linkStory({
    ...open,
    quests: open.quests!.map((quest, at) => (at === 7 ? { ...quest, stages: [...quest.stages, { id: 'lost', name: 'Lost' }] } : quest)),
    scenes: [{ ...hub!, beats: [{ ...start!, choices: [...start!.choices!, { id: 'lose', text: 'Lose it', when: "quest.q7 == 's1' && quest.q2 == 's3'", do: ["quest.q7 = 'lost'"], to: 'hub.start' }] }, end!] }],
    promises: [
      { id: 'late', kind: 'inOrder', first: "quest.q3 == 's3'", then: "ended('end')" },
      { id: 'open', kind: 'stillPossible', holds: "ended('end')" },
      { id: 'apart', kind: 'never', holds: "quest.q7 == 'lost' && quest.q11 == 's2'" },
    ],
  })
  // begun with single states, of which there are too many
  const survey = new Survey(story, { explicit: 20_000 })
  while (!survey.advance());
  expect(survey.isInSets).toBe(true)
  const { complete, reached, findings, promises, figures } = survey.result()
  expect(complete).toBe(true)
  expect(figures.states).toBe(6 * 5 ** 11 - 4 * 5 ** 10 + 1)
  expect(reached.endings.end!.decisions).toBe(49)
  expect(replay(story, reached.endings.end!.route!).refused).toBeUndefined()
  const told = findings.map(({ kind, key, route }) => [kind, ...key, route!.length].join(' '))
  // four steps with the one, two with the other, then it is lost
  expect(told).toEqual(['dead-end hub.start 47', 'no-way-out hub.start.lose 7', 'promise-broken open 7', 'promise-broken apart 10', 'stranded-stage q7 lost 7'])
  expect(promises.late!.verdict).toBe('kept')
  for (const { route } of findings) expect(replay(story, route!).refused).toBeUndefined()
})

test('a survey that is cut short is never wrong, and says what it has not decided', () => {
  for (let seed = 1; seed <= 300; seed += 1) {
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
    const plain = (items: Iterable<string>) => [...items].map((item) => item.replace(/^((?:no-way-out|stranded-stage|promise-broken) .*) in \d+$/, '$1'))
    const all = new Set(plain(itemsOf(full)))
    for (const item of plain(itemsOf(part))) {
      if (!/^promise \S+ undecided$/.test(item)) expect({ seed, item, known: all.has(item) }).toEqual({ seed, item, known: true })
    }
    for (const what of ['beats', 'choices', 'endings', 'stages'] as const) {
      const decided = [...Object.keys(part.reached[what]), ...part.unreached[what], ...part.undecided[what]].sort()
      expect(decided).toEqual([...Object.keys(full.reached[what]), ...full.unreached[what]].sort())
    }
  }
})

/** Holds the fast survey in all ways against the plain one; gives how many beats had code. */
function agree(seed: number, story: LinkedStory, plain: PlainResult, kinds: Set<string>): number {
  let coded = 0
  const replayed = new Set<string>()
  const replays = (route: readonly Decision[]) => {
    const name = JSON.stringify(route)
    if (replayed.has(name)) return undefined
    replayed.add(name)
    return replay(story, route).refused
  }
  // that takes longer, so not with each
  const ways: readonly SurveyOptions[] = seed % 8 === 0 ? [...WAYS, IN_SETS] : WAYS
  for (const how of ways) {
    const survey = new Survey(story, { routes: 'every', ...how })
    while (!survey.advance());
    const result = survey.result()
    if (how.hot === 0) coded += survey.search.codedBeats
    const items = itemsOf(result)
    const difference = {
      seed,
      how,
      missing: [...plain.items].filter((item) => !items.has(item)),
      extra: [...items].filter((item) => !plain.items.has(item)),
    }
    expect(difference).toEqual({ seed, how, missing: [], extra: [] })
    for (const found of result.findings) kinds.add(found.kind)
    for (const found of Object.values(result.reached).flatMap((part) => Object.values(part))) {
      expect({ seed, refused: replays(found.route!), length: found.route!.length }).toEqual({ seed, refused: undefined, length: found.decisions })
    }
    for (const { kind, route } of result.findings) {
      if (route !== undefined && kind !== 'route-broken') expect({ seed, kind, refused: replays(route) }).toEqual({ seed, kind, refused: undefined })
    }
  }
  return coded
}

function cutShort(story: ReturnType<typeof linkStory>, states: number) {
  const survey = new Survey(story)
  survey.advance(states)
  return survey.result()
}
