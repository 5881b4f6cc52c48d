import { seededRandom } from '../../core/base/random'
import type { Quest } from '../../core/story/types'
import type { QuestFacts } from '../../core/survey/questions/quests/quest-facts'
import { trackMoves, trackStages } from './track-layout'

const quest: Quest = {
  id: 'sluice',
  name: 'Sluice',
  stages: [
    { id: 'asked', name: 'Asked' },
    { id: 'tied', name: 'Tied' },
    { id: 'mended', name: 'Mended', outcome: 'success' },
    { id: 'refused', name: 'Refused', outcome: 'failure' },
  ],
  moves: [
    ['unstarted', 'asked'],
    ['asked', 'tied'],
    ['tied', 'mended'],
    ['asked', 'gone'],
  ],
}
const facts = (...moves: [string, string][]): QuestFacts => ({
  moves: moves.map(([from, to]) => ({ from, to, by: [] })),
  finish: {},
})

test('moves are told by whether they are declared and made; those of stages that are gone are not drawn', () => {
  expect(trackMoves(quest, undefined).map(({ kind }) => kind)).toEqual(['unknown', 'unknown', 'unknown'])
  expect(trackMoves(quest, facts(['unstarted', 'asked'], ['asked', 'refused']))).toEqual([
    { from: 'unstarted', to: 'asked', kind: 'made' },
    { from: 'asked', to: 'tied', kind: 'unmade' },
    { from: 'tied', to: 'mended', kind: 'unmade' },
    { from: 'asked', to: 'refused', kind: 'undeclared' },
  ])
  // where no move is checked, none is undeclared
  const { moves, ...free } = quest
  expect(moves).toHaveLength(4)
  expect(trackMoves(free, facts(['asked', 'refused']))).toEqual([{ from: 'asked', to: 'refused', kind: 'made' }])
})

test('stages stand in the order of their moves, outcomes in the last column, no two on one spot', () => {
  expect(trackStages(quest, trackMoves(quest, facts()))).toEqual([
    { id: 'unstarted', column: 0, row: 0 },
    { id: 'asked', column: 1, row: 0 },
    { id: 'tied', column: 2, row: 0 },
    { id: 'mended', column: 3, row: 0 },
    { id: 'refused', column: 3, row: 1 },
  ])
  const random = seededRandom(11)
  for (let round = 0; round < 200; round += 1) {
    const stages = Array.from({ length: random.below(8) }, (_, at) => ({
      id: `s${at}`,
      name: `S${at}`,
      ...(random.chance(0.3) ? { outcome: 'failure' as const } : {}),
    }))
    const names = ['unstarted', ...stages.map(({ id }) => id)]
    const made: Quest = {
      id: 'q',
      name: 'Q',
      stages,
      moves: Array.from({ length: random.below(12) }, (): [string, string] => [random.pick(names), random.pick(names)]),
    }
    const places = trackStages(made, trackMoves(made, undefined))
    expect(places.map(({ id }) => id)).toEqual(names)
    expect(new Set(places.map(({ column, row }) => `${column} ${row}`)).size).toBe(names.length)
    const last = Math.max(...places.map(({ column }) => column))
    for (const { id, outcome } of stages)
      if (outcome !== undefined) expect(places.find((place) => place.id === id)!.column).toBe(last)
  }
})
