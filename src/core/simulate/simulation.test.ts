import { ordinary, questsAroundHub, rivals, unevenBudget } from '../../../bench/stories/families'
import { randomStory } from '../../../bench/stories/random'
import { hubStory } from '../../../test/hub-story'
import { countWords } from '../base/count-words'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import type { Story } from '../story/types'
import { Survey } from '../survey/survey'
import { readDraw, type GivenDraw, type GivenDraws } from './given-draws'
import { playersSurvey } from './players-survey'
import { barsOf, counted, spreadOf } from './spread'
import type { SimulationResult } from './result'
import { SHARE_PLAYS, Simulation } from './simulation'
import { addTallies, resultOf, type Tally } from './tally'
import type { Player } from './player'
import type { LinkedStory } from '../story/linked'
import { seeds } from '../../../test/seeds'

const PLAYS = 40
const LONGEST = 60

function surveyed(story: LinkedStory): Survey {
  const survey = new Survey(story)
  while (!survey.advance());
  return survey
}

function simulated(story: LinkedStory, player: Player, seed: number, slice = PLAYS): SimulationResult {
  const simulation = Simulation.of(story, { player, seed, longest: LONGEST }, () => surveyed(story))
  if (!simulation.ok) throw new Error(simulation.error)
  for (let play = 0; play < PLAYS; play += slice) simulation.value.advance(Math.min(slice, PLAYS - play))
  return simulation.value.result()
}

test('what simulated players meet is what the survey says can be met', () => {
  let ended = 0
  for (const seed of seeds(40)) {
    const story = linkStory(randomStory(seed))
    const { reached } = surveyed(story).result()
    for (const kind of ['random', 'curious'] as const) {
      const result = simulated(story, { kind }, seed)
      for (const what of ['beats', 'endings', 'stages'] as const) {
        for (const [address, { plays }] of Object.entries(result[what]))
          if (plays > 0) expect(reached[what]).toHaveProperty([address])
      }
      for (const [address, { offered, taken, plays }] of Object.entries(result.choices)) {
        if (offered > 0) expect(reached.choices).toHaveProperty([address])
        expect(taken).toBeLessThanOrEqual(offered)
        expect(plays).toBeLessThanOrEqual(taken)
      }
      const ends = [...Object.values(result.endings), ...Object.values(result.unended)].reduce(
        (sum, { plays }) => sum + plays,
        0,
      )
      expect(ends).toBe(story.start === -1 ? 0 : PLAYS)
      ended += Object.values(result.endings).reduce((sum, { plays }) => sum + plays, 0)
      for (const [id, steps] of Object.entries(result.counters)) {
        const entry = story.entries[story.entryOf.get(id)!]!
        expect(steps[0]).toMatchObject({ decisions: 0, plays: PLAYS })
        for (const step of steps) {
          expect(step.least).toBeGreaterThanOrEqual(entry.min)
          expect(step.most).toBeLessThanOrEqual(entry.max)
        }
      }
    }
  }
  expect(ended).toBeGreaterThan(150)
})

test('a player who goes for an ending comes to it, in no fewer decisions than the shortest route', () => {
  let bound = 0
  for (const seed of seeds(80)) {
    const story = linkStory(randomStory(seed))
    const { reached } = surveyed(story).result()
    for (const [ending, { decisions }] of Object.entries(reached.endings)) {
      const result = simulated(story, { kind: 'bound', ending }, seed)
      // a way that keeps the ending open may still be taken over and over, but never loses it
      expect(result.endings[ending]!.plays + result.unended['given-up'].plays).toBe(PLAYS)
      expect(result.endings[ending]!.plays).toBeGreaterThan(PLAYS * 0.8)
      expect(result.decisions.spread!.least).toBeGreaterThanOrEqual(decisions)
      bound += 1
    }
    for (const { id } of story.endings) {
      if (!(id in reached.endings))
        expect(Simulation.of(story, { player: { kind: 'bound', ending: id }, seed }, () => surveyed(story)).ok).toBe(
          false,
        )
    }
  }
  expect(bound).toBeGreaterThan(6)
})

/** Stories that are decided by single states and by sets alike. */
function* bothWays(): Generator<Story> {
  for (const seed of seeds(40)) yield randomStory(seed)
  for (const seed of seeds(120)) yield randomStory(seed, 'tiny')
  for (const seed of seeds(6)) yield hubStory(seededRandom(seed), 2 + (seed % 3))
  yield rivals(3)
  yield unevenBudget(8, 22)
}

test('players bound for an ending go the same ways by sets of states as by single states', () => {
  let bound = 0
  const asked = new Set<string>()
  for (const [number, doc] of [...bothWays()].entries()) {
    const story = linkStory(doc)
    if (story.start === -1) continue
    const single = playersSurvey(story, () => false, Infinity)
    // most stories made at random come to no ending: some of them will do
    if (Object.keys(single.result().reached.endings).length === 0 && number % 8 > 0) continue
    const sets = playersSurvey(story, () => false, 0)
    if (sets.inSets === undefined) continue
    for (const { id } of story.endings) {
      const options = { player: { kind: 'bound', ending: id }, seed: number, longest: LONGEST } as const
      const one = Simulation.of(story, options, () => single)
      const other = Simulation.of(story, options, () => sets)
      expect({ number, id, isFound: other.ok }).toEqual({ number, id, isFound: one.ok })
      if (!one.ok || !other.ok) continue
      one.value.advance(PLAYS)
      other.value.advance(PLAYS)
      expect({ number, id, ...other.value.result() }).toEqual({ number, id, ...one.value.result() })
      bound += 1
      if (story.inOrder.some(({ ask }) => ask !== undefined)) asked.add('a word')
      for (const { given } of story.entries) if (given !== undefined) asked.add(given)
    }
  }
  expect(bound).toBeGreaterThan(20)
  expect([...asked].sort()).toEqual(['a word', 'begin', 'rest'])
})

test('a player finds the way where single states are far too many', () => {
  const story = linkStory(questsAroundHub(24))
  const survey = playersSurvey(story, () => false)
  expect(survey.inSets).toBeDefined()
  const [ending] = story.endings
  const made = Simulation.of(story, { player: { kind: 'bound', ending: ending!.id }, seed: 1 }, () => survey)
  if (!made.ok) throw new Error(made.error)
  made.value.advance(20)
  const { endings, decisions } = made.value.result()
  expect(endings[ending!.id]!.plays).toBe(20)
  expect(decisions.spread!.least).toBeGreaterThanOrEqual(survey.result().reached.endings[ending!.id]!.decisions)
  // an ending that is no ending of the story, before any survey
  const refused = Simulation.of(story, { player: { kind: 'bound', ending: 'nowhere' }, seed: 1 }, () => {
    throw new Error('not needed')
  })
  expect(refused).toEqual({ ok: false, error: 'the story has no ending "nowhere"' })
})

test('the same seed gives the same figures, also in slices; another seed gives others', () => {
  const story = linkStory(ordinary(40))
  const once = simulated(story, { kind: 'random' }, 7)
  expect(simulated(story, { kind: 'random' }, 7, 1)).toEqual(once)
  expect(simulated(story, { kind: 'random' }, 8).words).not.toEqual(once.words)
})

test('playthroughs in shares, each by another, added in any order, are those of one', () => {
  const plays = 2 * SHARE_PLAYS + 500
  for (const seed of [3, 0xffffffff]) {
    const story = linkStory(ordinary(4))
    const options = { player: { kind: 'random' }, seed, longest: 8 } as const
    const tallyOf = (from: number, many: number) => {
      const simulation = Simulation.of(story, options, () => surveyed(story), from)
      if (!simulation.ok) throw new Error(simulation.error)
      simulation.value.advance(many)
      return simulation.value.tally()
    }
    const whole = tallyOf(0, plays)
    const parts = [0, 1, 2].map((share) => tallyOf(share * SHARE_PLAYS, share === 2 ? 500 : SHARE_PLAYS))
    // as it comes from another machine
    const sent = parts.map((part) => JSON.parse(JSON.stringify(part)) as Tally)
    const added = [sent[2]!, sent[0]!, sent[1]!].reduce(addTallies)
    expect(resultOf(added, options)).toEqual(resultOf(whole, options))
    expect(added.plays).toBe(plays)
    // each share meets other numbers
    expect(parts[1]!.words).not.toEqual(parts[0]!.words)
    expect(() => tallyOf(5, 1)).toThrow('in the middle of a share')
  }
})

test('one who looks for new text reads more of a hub than one who chooses at random', () => {
  const choice = (id: string) => ({ id, text: `Ask about ${id}`, to: 'room.hub' })
  const story = linkStory({
    paperCompass: 1,
    title: 'Hub',
    language: 'en',
    start: 'room.hub',
    endings: [{ id: 'out', name: 'Out' }],
    scenes: [
      {
        id: 'room',
        title: 'Room',
        beats: [
          {
            id: 'hub',
            choices: [...['salt', 'bees', 'tide', 'rope'].map(choice), { id: 'go', text: 'Go', to: 'room.out' }],
          },
          { id: 'out', ending: 'out' },
        ],
      },
    ],
  })
  const asked = ({ choices }: SimulationResult) => Object.values(choices).reduce((sum, { plays }) => sum + plays, 0)
  expect(asked(simulated(story, { kind: 'curious' }, 3))).toBeGreaterThan(0)
  const curious = Simulation.of(story, { player: { kind: 'curious' }, seed: 3 }, () => surveyed(story))
  if (!curious.ok) throw new Error(curious.error)
  curious.value.advance(PLAYS)
  // nothing is taken twice while something was not taken yet, so no playthrough is longer than the choices
  expect(curious.value.result().decisions.spread!.most).toBeLessThanOrEqual(5)
  expect(simulated(story, { kind: 'random' }, 3).decisions.spread!.most).toBeGreaterThan(5)
  // three words a question but the last, and all that are open are read each time
  expect(curious.value.result().words.spread!.least).toBe(4 * 3 + 1)
})

test('spreads and bars are those of the numbers themselves', () => {
  const random = seededRandom(5)
  for (let round = 0; round < 200; round += 1) {
    const numbers = Array.from({ length: 1 + random.below(40) }, () => random.below(1 + random.below(90)) - 20)
    const spread = spreadOf(counted(numbers))!
    expect([spread.least, spread.most]).toEqual([Math.min(...numbers), Math.max(...numbers)])
    expect(spread.mean).toBeCloseTo(numbers.reduce((sum, number) => sum + number, 0) / numbers.length, 9)
    expect(numbers.filter((number) => number <= spread.median).length * 2).toBeGreaterThanOrEqual(numbers.length)
    expect(numbers.filter((number) => number < spread.median).length * 2).toBeLessThan(numbers.length + 1)
    const bars = barsOf(counted(numbers))
    for (const { from, to, plays } of bars)
      expect(plays).toBe(numbers.filter((number) => number >= from && number < to).length)
    expect(bars.reduce((sum, { plays }) => sum + plays, 0)).toBe(numbers.length)
  }
  expect(spreadOf([])).toBeUndefined()
})

test('words are counted as the rules of the language count them', () => {
  const segmenter = new Intl.Segmenter('en', { granularity: 'word' })
  for (const text of [
    '',
    '…',
    'Mind the rope, Wren.',
    "It’s half past nine, isn't it?",
    'Eleven cases; 3.5 hours — no more!',
    'Grüße, naïve façade',
    '« Où ? » dit-elle',
  ]) {
    const parts = [...segmenter.segment(text)].filter(({ isWordLike }) => isWordLike).length
    // a hyphen joins here what the annex keeps apart
    expect(countWords(text, 'en')).toBe(parts - (text.match(/\p{L}-\p{L}/gu)?.length ?? 0))
  }
  expect(countWords('春の海', 'ja')).toBe(
    [...new Intl.Segmenter('ja', { granularity: 'word' }).segment('春の海')].length,
  )
})

const ferry = (given: 'begin' | 'rest') =>
  linkStory({
    paperCompass: 1,
    title: 'The ferry',
    language: 'en',
    start: 'quay.steps',
    ledger: [
      { id: 'level', kind: 'counter', min: 1, max: 1_000_000, initial: 1, given },
      { id: 'wind', kind: 'switch', positions: ['calm', 'west', 'gale'], given },
      { id: 'pilot', kind: 'text', given },
    ],
    endings: [
      { id: 'over', name: 'Over' },
      { id: 'home', name: 'Home' },
    ],
    scenes: [
      {
        id: 'quay',
        title: 'The quay',
        beats: [
          {
            id: 'steps',
            choices: [
              { id: 'sail', text: 'Sail', when: "level >= 5 && wind != 'gale'", to: 'quay.over' },
              { id: 'call', text: 'Call for Odile', when: "pilot == 'Odile'", to: 'quay.over' },
              { id: 'wait', text: 'Wait', to: 'quay.steps' },
              { id: 'leave', text: 'Go home', when: 'visits(quay.steps) > 1', to: 'quay.home' },
            ],
          },
          { id: 'over', ending: 'over' },
          { id: 'home', ending: 'home' },
        ],
      },
    ],
  })

function given(when: 'begin' | 'rest', player: Player, draws: Record<string, string>, plays = 1_000): SimulationResult {
  const story = ferry(when)
  const read = Object.entries(draws).map(([id, source]): [string, GivenDraw] => {
    const draw = readDraw(story.entries[story.entryOf.get(id)!]!, source)
    if (!draw.ok) throw new Error(draw.error)
    return [id, draw.value]
  })
  const options = { player, seed: 3, longest: LONGEST, given: Object.fromEntries(read) }
  const simulation = Simulation.of(story, options, () => surveyed(story))
  if (!simulation.ok) throw new Error(simulation.error)
  simulation.value.advance(plays)
  return simulation.value.result()
}

test('what the game gives is drawn as the designer says, before the story begins or while it rests', () => {
  const never = given('begin', { kind: 'random' }, { level: '1..4', pilot: 'Ansgar' })
  expect(never.endings['over']!.plays).toBe(0)
  const calm = given('begin', { kind: 'random' }, { level: '1..4', pilot: 'Odile:3, Ansgar:1' })
  expect(calm.choices['quay.steps.call']!.plays).toBeGreaterThan(300)
  expect(calm.choices['quay.steps.sail']!.offered).toBe(0)
  // one in four never has Odile: those can only go home
  const going = given('begin', { kind: 'bound', ending: 'over' }, { level: '4', pilot: 'Odile:3, Ansgar:1' })
  expect(going.endings['over']!.share).toBeGreaterThan(0.7)
  expect(going.endings['over']!.share).toBeLessThan(0.8)
  // while it rests the wind turns sooner or later, and waiting keeps the way over open
  const waiting = given(
    'rest',
    { kind: 'bound', ending: 'over' },
    { level: '5..9', wind: 'gale:9, calm:1', pilot: 'Ansgar' },
  )
  expect(waiting.endings['over']!.share).toBeGreaterThan(0.95)
  expect(waiting.decisions.spread!.median).toBeGreaterThan(2)
  const uniform = given('rest', { kind: 'random' }, {})
  expect(uniform.choices['quay.steps.sail']!.offered).toBeGreaterThan(500)
})

test('draws that the story does not have are refused, each with a reason', () => {
  const story = ferry('rest')
  const [level, wind, pilot] = story.entries
  expect(readDraw(wind!, 'fog:2')).toEqual({ ok: false, error: '"wind" can not be "fog"' })
  expect(readDraw(level!, '0')).toEqual({ ok: false, error: '"level" can not be "0"' })
  expect(readDraw(pilot!, 'a..b')).toMatchObject({ ok: true })
  const refused = (draws: GivenDraws) =>
    Simulation.of(story, { player: { kind: 'random' }, seed: 1, given: draws }, () => surveyed(story))
  expect(refused({ level: { kind: 'between', from: 0, to: 4 } })).toEqual({
    ok: false,
    error: '"level" can not be from 0 to 4',
  })
  expect(refused({ rope: { kind: 'between', from: 0, to: 4 } })).toEqual({
    ok: false,
    error: 'the game gives no entry "rope"',
  })
  expect(refused({ wind: { kind: 'weighted', of: [['calm', 0]] } })).toEqual({
    ok: false,
    error: '"wind" has no value with a weight above 0',
  })
})
