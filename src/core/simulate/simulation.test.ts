import { ordinary } from '../../../bench/stories/families'
import { randomStory } from '../../../bench/stories/random'
import { countWords } from '../base/count-words'
import { seededRandom } from '../base/random'
import { linkStory } from '../story/link'
import { Survey } from '../survey/survey'
import { barsOf, spreadOf, spreadOfCounts } from './spread'
import { Simulation, type SimulationResult } from './simulation'
import type { Player } from './player'
import type { LinkedStory } from '../story/linked'

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
  for (let seed = 1; seed <= 40; seed += 1) {
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
  for (let seed = 1; seed <= 140; seed += 1) {
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
  expect(bound).toBeGreaterThan(12)
})

test('the same seed gives the same figures, also in slices; another seed gives others', () => {
  const story = linkStory(ordinary(40))
  const once = simulated(story, { kind: 'random' }, 7)
  expect(simulated(story, { kind: 'random' }, 7, 1)).toEqual(once)
  expect(simulated(story, { kind: 'random' }, 8).words).not.toEqual(once.words)
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
    const numbers = Array.from({ length: 1 + random.below(40) }, () => random.below(1 + random.below(90)) - 20).sort(
      (a, b) => a - b,
    )
    const spread = spreadOf(numbers)!
    const least = numbers[0]!
    const counts = new Array<number>(numbers.at(-1)! - least + 1).fill(0)
    for (const number of numbers) counts[number - least]! += 1
    expect(spreadOfCounts(counts, least)).toEqual({ ...spread, plays: numbers.length })
    expect(numbers.filter((number) => number <= spread.median).length * 2).toBeGreaterThanOrEqual(numbers.length)
    expect(numbers.filter((number) => number < spread.median).length * 2).toBeLessThan(numbers.length + 1)
    const bars = barsOf(numbers)
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
