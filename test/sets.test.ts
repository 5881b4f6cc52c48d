import { corridor, ordinary, questsAroundHub, rivals, sideQuests, unevenBudget } from '../bench/stories/families'
import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { replay } from '../src/core/play/replay'
import { linkStory } from '../src/core/story/link'
import type { LinkedStory } from '../src/core/story/linked'
import { checkStory } from '../src/core/story/read'
import { Bearings } from '../src/core/survey/questions/bearing'
import { Survey } from '../src/core/survey/survey'
import { whyNot } from '../src/core/survey/questions/why-not'
import { agree, IN_SETS, inSetsBy, statesFor } from './agree'
import { hubStory } from './hub-story'
import { withoutWayBack } from './onward-story'
import { itemsOf, plainSurvey } from './plain/checker'
import { purseStory } from './purse-story'
import { quay } from './quay'
import { isMuch, seeds } from './seeds'

test('sets of states and the plain checker agree on generated stories, with a way back and without', () => {
  let compared = 0
  const kinds = new Set<string>()
  for (const seed of seeds(70)) {
    const doc = randomStory(seed, 'tiny')
    const checked = checkStory(seed % 4 === 0 ? withoutWayBack(doc) : doc)
    if (!checked.ok) throw new Error(`seed ${seed}: ${JSON.stringify(checked.error)}`)
    const story = linkStory(checked.value)
    const plain = plainSurvey(story, statesFor(story))
    if (plain === undefined) continue
    compared += 1
    agree(seed, story, plain, kinds, [inSetsBy(seed)])
  }
  expect(compared).toBeGreaterThan(45)
  expect([...kinds]).toEqual(
    expect.arrayContaining([
      'always-open',
      'dead-end',
      'endless-run',
      'left-open',
      'no-way-out',
      'overrun',
      'promise-broken',
      'stranded-stage',
      'undeclared-move',
      'unreached',
      'unset-text',
    ]),
  )
})

/** Holds sets, of which there may be so many, against single states, of which there may be so many; false where that can't be done. */
function agreeBothWays(number: number, story: LinkedStory, states: number, nodes?: number): boolean {
  const how = inSetsBy(number)
  const sets = new Survey(story, { routes: 'all', ...how, limits: { ...how.limits, nodes } })
  while (!sets.advance()) if (sets.search.expanded > 0) return false
  if (!sets.isInSets || sets.result().figures.states > states) return false
  const single = new Survey(story, { routes: 'all', explicit: Infinity })
  while (!single.advance());
  const [expected, found] = [single.result(), sets.result()]
  expect({ number, items: [...itemsOf(found)].sort(), states: found.figures.states }).toEqual({
    number,
    items: [...itemsOf(expected)].sort(),
    states: expected.figures.states,
  })
  const [asSingle, asSets] = [new Bearings(single), new Bearings(sets)]
  for (const { address } of story.inOrder) {
    const [one, other] = [asSingle.of(address)!, asSets.of(address)!]
    // with so little room it may be told only as far as it was seen, and says so
    if (nodes !== undefined && !other.exact) continue
    expect({ number, ...other, reached: other.reached?.decisions }).toEqual({
      number,
      ...one,
      reached: one.reached?.decisions,
    })
    if (other.reached !== undefined) expect(replay(story, other.reached.route).refused).toBeUndefined()
  }
  // where several parts can be the fewest, which of them is named may differ
  const plainly = (survey: Survey, address: string) =>
    JSON.stringify(
      whyNot(survey, address).causes.map((cause) =>
        cause.kind === 'gate' ? { ...cause, remove: cause.remove.length } : cause,
      ),
    )
  // a gate likewise
  const isWhole = (address: string) =>
    whyNot(sets, address).causes.every((one) => one.kind !== 'gate' || !one.isPartial)
  for (const { key } of expected.findings.filter(({ kind }) => kind === 'unreached').slice(0, 4))
    if (nodes === undefined || isWhole(key[0]!))
      expect({ number, key, why: plainly(sets, key[0]!) }).toEqual({ number, key, why: plainly(single, key[0]!) })
  for (const { kind, route } of found.findings)
    if (route !== undefined && kind !== 'route-broken')
      expect({ number, kind, refused: replay(story, route).refused }).toEqual({ number, kind, refused: undefined })
  return true
}

test('sets of states say what single states say, also where there are too many for the plain checker', () => {
  const stories = [questsAroundHub(6), rivals(4), unevenBudget(9, 25), corridor(60, 20), ordinary(75), sideQuests(10)]
  for (const seed of seeds(12)) stories.push(randomStory(seed))
  // where choices that decide whether it goes on ask for what the game gives at each rest
  stories.push(randomStory(3035))
  for (const seed of seeds(14)) stories.push(hubStory(seededRandom(seed), 3 + (seed % 3)))
  for (const seed of seeds(8)) stories.push(purseStory(seededRandom(seed), seed % 2 === 0 ? 3 : 16))
  let compared = 0
  for (const [number, doc] of stories.entries()) if (agreeBothWays(number, linkStory(doc), 40_000)) compared += 1
  expect(compared).toBeGreaterThan(32)
})

// in each run of the tests one that is small for so many quests, else all of which there are not too many single states
test('stories of eight to fourteen quests at once are decided alike by single states and by sets', () => {
  let compared = 0
  for (const seed of isMuch ? seeds(30) : [49]) {
    const story = linkStory(hubStory(seededRandom(seed), 8 + (seed % 7)))
    if (agreeBothWays(seed, story, 400_000, 400_000)) compared += 1
  }
  expect(compared).toBeGreaterThan(0)
})

test('stories of eight to fourteen quests of which some are open at once are decided alike, too', () => {
  const all = [...seeds(isMuch ? 120 : 4)]
  let compared = 0
  for (const seed of all) {
    const story = linkStory(hubStory(seededRandom(seed), 8 + (seed % 7), 2 + (seed % 4)))
    if (agreeBothWays(seed, story, 60_000, 800_000)) compared += 1
  }
  expect(compared).toBeGreaterThanOrEqual(all.length / 3)
})

test('gates of choices that are made once do not multiply the ways on', () => {
  const survey = new Survey(linkStory(hubStory(seededRandom(1015), 8)), IN_SETS)
  while (!survey.advance());
  // asked for one by one they make ten thousand
  expect(survey.inSets!.commandsOf(0).length).toBeLessThan(1000)
})

test('distances of very many quests around a hub are small', () => {
  // in layers they take four times as much
  const survey = new Survey(linkStory(questsAroundHub(40, 5)), { ...IN_SETS, limits: { nodes: 8000 } })
  while (!survey.advance() && !survey.search.done && survey.progress.states < 100);
  expect(survey.isInSets).toBe(true)
  expect(survey.result().reached.endings.end!.decisions).toBe(40 * 5 + 1)
})

test('a gate that would take too much to look at everywhere is told of as far as it was seen', () => {
  const open = questsAroundHub(6)
  const [hub] = open.scenes
  const [start, end] = hub!.beats
  const both = {
    id: 'both',
    text: 'Both',
    when: "quest.q1 == 's1' && quest.q1 == 's2' && (quest.q4 == 's1' || quest.q2 == 's3' || quest.q5 == 's2')",
    to: 'hub.start',
  }
  const story = linkStory({
    ...open,
    scenes: [{ ...hub!, beats: [{ ...start!, choices: [...start!.choices!, both] }, end!] }],
  })
  const why = (nodes?: number) => {
    const survey = new Survey(story, { ...IN_SETS, limits: { nodes } })
    while (!survey.advance());
    return { used: survey.inSets!.diagrams.nodes, causes: whyNot(survey, 'hub.start.both').causes }
  }
  const { used, causes } = why()
  expect(causes).toMatchObject([
    { kind: 'gate', parts: [{ everHolds: true }, { everHolds: true }, { everHolds: true }] },
  ])
  expect(causes[0]).not.toHaveProperty('isPartial')
  // with just what the survey takes nothing is left for the question
  expect(why(used).causes).toMatchObject([{ kind: 'gate', isPartial: true, remove: [] }])
})

test('a dozen quests open at once are decided, with the shortest routes', () => {
  const open = questsAroundHub(12)
  const [hub] = open.scenes
  const [start, end] = hub!.beats
  // one of them can be lost, and nobody has thought of that
  const story = linkStory({
    ...open,
    quests: open.quests!.map((quest, at) =>
      at === 7 ? { ...quest, stages: [...quest.stages, { id: 'lost', name: 'Lost' }] } : quest,
    ),
    scenes: [
      {
        ...hub!,
        beats: [
          {
            ...start!,
            choices: [
              ...start!.choices!,
              {
                id: 'lose',
                text: 'Lose it',
                when: "quest.q7 == 's1' && quest.q2 == 's3'",
                do: ["quest.q7 = 'lost'"],
                to: 'hub.start',
              },
            ],
          },
          end!,
        ],
      },
    ],
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
  expect(told).toEqual([
    'dead-end hub.start 47',
    'no-way-out hub.start.lose 7',
    'promise-broken open 7',
    'promise-broken apart 10',
    'stranded-stage q7 lost 7',
  ])
  expect(promises.late!.verdict).toBe('kept')
  for (const { route } of findings) expect(replay(story, route!).refused).toBeUndefined()
})

test('at a word, too, what the game gives can change from any of its values to any other', () => {
  const lamp = { id: 'lamp', kind: 'switch' as const, positions: ['dark', 'lit', 'lost'], given: 'rest' as const }
  const story = linkStory(
    quay(
      [
        { id: 'here', choices: [{ id: 'go', text: 'Go', to: 'quay.log' }] },
        { id: 'log', ask: { into: 'word', prompt: 'Name?' }, onward: [{ to: 'quay.log' }] },
      ],
      {
        ledger: [lamp, { id: 'word', kind: 'text' }],
        promises: ['dark', 'lit', 'lost'].map((position) => ({
          id: position,
          kind: 'stillPossible' as const,
          holds: `lamp == '${position}'`,
        })),
      },
    ),
  )
  for (const options of [{}, IN_SETS]) {
    const survey = new Survey(story, options)
    while (!survey.advance());
    expect(survey.result().promises).toMatchObject({
      dark: { verdict: 'kept' },
      lit: { verdict: 'kept' },
      lost: { verdict: 'kept' },
    })
  }
  for (const seed of [223, 653]) {
    const found = linkStory(randomStory(seed))
    const expected = plainSurvey(found, 20_000)!
    agree(seed, found, expected, new Set(), [{}, IN_SETS])
  }
})

test('a decision that reads much is played in every way, and others get their turn meanwhile', () => {
  const heaps = ['barrels', 'ropes', 'sacks']
  const story = linkStory(
    quay(
      [
        {
          id: 'here',
          choices: [
            ...heaps.map((id) => ({ id, text: 'One more', when: `${id} < 7`, do: [`${id} += 1`], to: 'quay.here' })),
            { id: 'count', text: 'Count', do: [`all = ${heaps.join(' + ')}`], to: 'quay.counted' },
          ],
        },
        { id: 'counted', onward: [{ when: 'all == 21', to: 'quay.end' }, { to: 'quay.here' }] },
        { id: 'end', ending: 'home' },
      ],
      {
        ledger: [...heaps.map((id) => ({ id, kind: 'item' as const, max: 7 })), { id: 'all', kind: 'item', max: 21 }],
        endings: [{ id: 'home', name: 'Home' }],
      },
    ),
  )
  const [single, sets] = [{ explicit: Infinity }, IN_SETS].map((options) => {
    const survey = new Survey(story, options)
    while (!survey.advance());
    return survey
  }) as [Survey, Survey]
  expect(itemsOf(sets.result())).toEqual(itemsOf(single.result()))
  expect(sets.result().reached.endings.home!.decisions).toBe(22)
  const ways = sets.inSets!.actions.ways(0)
  let turns = 0
  let step = ways.next()
  for (; step.done !== true; step = ways.next()) turns += 1
  expect(step.value!.length).toBeGreaterThanOrEqual(8 ** 3)
  expect(turns).toBeGreaterThan(8)
})
