import type { Beat, Line, Story } from '../types'
import { compareStories } from './compare-stories'

const withLines = (lines: Line[], more: Partial<Beat> = {}): Story => ({
  paperCompass: 1,
  title: 'Compared',
  language: 'en',
  start: 'quay.here',
  scenes: [{ id: 'quay', title: 'Quay', beats: [{ id: 'here', lines, ...more }] }],
})
const notes = (before: Story, after: Story) =>
  compareStories(before, after).flatMap(({ kind, id, notes: list }) =>
    list.map(({ text, before: was, after: is }) => [kind, id, text, was, is].filter((one) => one !== undefined)),
  )
const HERE = ['beat', 'quay.here']

test('a line put in between is one line added, one taken out is one deleted', () => {
  const [a, b, c] = [{ text: 'One.' }, { text: 'Two.' }, { text: 'Three.' }]
  expect(notes(withLines([a, c]), withLines([a, b, c]))).toEqual([[...HERE, 'line added', 'Two.']])
  expect(notes(withLines([a, b, c]), withLines([a, c]))).toEqual([[...HERE, 'line deleted', 'Two.']])
  expect(notes(withLines([a, b, c]), withLines([a, b, c]))).toEqual([])
})

test('a line in the place of another is that line reworded', () => {
  expect(
    notes(
      withLines([{ text: 'One.' }, { speaker: 'odile', text: 'Two.' }, { text: 'Three.' }]),
      withLines([{ text: 'One.' }, { speaker: 'odile', text: 'Two, then.' }, { text: 'Three.' }]),
    ),
  ).toEqual([[...HERE, 'line reworded', 'odile: Two.', 'odile: Two, then.']])
})

test('a line that became variants, and variants that changed, are told as such', () => {
  const plain: Line = { text: 'The flats shine.' }
  const group: Line = {
    firstOf: [{ when: 'tide > 2', lines: [{ text: 'Water.' }] }, { lines: [{ text: 'The flats shine.' }] }],
  }
  const said = '[tide > 2] Water. | [otherwise] The flats shine.'
  expect(notes(withLines([plain]), withLines([group]))).toEqual([
    [...HERE, 'variants changed', 'The flats shine.', said],
  ])
  expect(notes(withLines([group]), withLines([plain]))).toEqual([
    [...HERE, 'variants changed', said, 'The flats shine.'],
  ])
})

test('gates, effects, manners and notes of a line are told one by one', () => {
  expect(
    notes(
      withLines([{ text: 'Go.', when: 'paid', manner: 'thought' }]),
      withLines([{ text: 'Go.', do: ['tide -= 1'], notes: 'shorter?' }]),
    ),
  ).toEqual([
    [...HERE, 'manner of “Go.”', 'thought'],
    [...HERE, 'gate of “Go.” taken away', 'paid'],
    [...HERE, 'effects of “Go.” added', 'tide -= 1'],
    [...HERE, 'note on “Go.” added', 'shorter?'],
  ])
})

test('choices are known by their ids, and their order is told apart from their words', () => {
  const [stay, go] = [
    { id: 'stay', text: 'Stay', to: '' },
    { id: 'go', text: 'Go', to: 'quay.here', once: true },
  ]
  expect(notes(withLines([], { choices: [stay, go] }), withLines([], { choices: [go, stay] }))).toEqual([
    [...HERE, 'choices put in another order'],
  ])
  expect(
    notes(withLines([], { choices: [stay, go] }), withLines([], { choices: [{ id: 'go', text: 'Go on', to: '' }] })),
  ).toEqual([
    [...HERE, 'choice deleted', 'Stay'],
    [...HERE, 'choice reworded', 'Go', 'Go on'],
    [...HERE, 'destination of “Go on” changed', 'quay.here', ''],
    [...HERE, '“Go on” can be taken again and again'],
  ])
})

test('things that came and went are told by kind and id', () => {
  const story = withLines([])
  const found = compareStories(
    { ...story, cast: [{ id: 'odile', name: 'Odile' }] },
    { ...story, title: 'Again', endings: [{ id: 'home', name: 'Home' }] },
  ).map(({ kind, id }) => `${kind} ${id}`)
  expect(found).toEqual(['story ', 'person odile', 'ending home'])
})
