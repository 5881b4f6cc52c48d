import type { Story } from '../../../core/story/types'
import { linkStory } from '../../../core/story/link'
import { surveyStory } from '../../../core/survey/survey'
import { speakerTyped } from '../../../core/story/reshape/beat-edits'
import { isTodo } from '../../../core/story/words'
import { outlineRows, type Filter } from './outline-rows'

const story: Story = {
  paperCompass: 1,
  title: 'Rows',
  language: 'en',
  start: 'quay.morning',
  cast: [
    { id: 'odile', name: 'Odile Marsh' },
    { id: 'tamsin', name: 'Tamsin Vane' },
    { id: 'aske', name: 'Brother Aske' },
    { id: 'tomas', name: 'Tomas' },
  ],
  ledger: [{ id: 'rope', kind: 'item', max: 3 }],
  quests: [{ id: 'sluice', name: 'Sluice', stages: [{ id: 'asked', name: 'Asked' }] }],
  scenes: [
    {
      id: 'quay',
      title: 'The quay',
      beats: [
        {
          id: 'morning',
          place: true,
          lines: [{ speaker: 'odile', text: 'Good morning.' }],
          choices: [{ id: 'take', text: 'Take it', do: ['rope += 1'], to: 'quay.rope', notes: 'TODO price' }],
        },
        {
          id: 'rope',
          lines: [
            {
              firstOf: [
                { when: "quest.sluice == 'asked'", lines: [{ speaker: 'aske', text: 'Tarred.' }] },
                { lines: [{ text: '' }] },
              ],
            },
          ],
          onward: [{ to: 'return' }],
        },
      ],
    },
    {
      id: 'mill',
      title: 'The mill',
      beats: [
        { id: 'loft', notes: 'not todo', lines: [{ text: 'You hold {rope, plural, one {a rope} other {# ropes}}.' }] },
      ],
    },
  ],
}
const result = surveyStory(linkStory(story))
const shown = (filter: Filter, search = '') =>
  outlineRows(story, search, filter, result, () => false).flatMap((row) => (row.kind === 'beat' ? [row.address] : []))

test('the outline shows what it is asked for: by verdict, finding, to-do, empty line, person, entry, quest and words', () => {
  expect(shown('all')).toEqual(['quay.morning', 'quay.rope', 'mill.loft'])
  expect(shown('unreached')).toEqual(['mill.loft'])
  expect(shown('found')).toEqual(expect.arrayContaining(['mill.loft', 'quay.rope']))
  expect(shown('todo')).toEqual(['quay.morning'])
  expect(shown('empty')).toEqual(['quay.rope'])
  expect(shown('person:aske')).toEqual(['quay.rope'])
  expect(shown('entry:rope')).toEqual(['quay.morning', 'mill.loft'])
  expect(shown('quest:sluice')).toEqual(['quay.rope'])
  expect(shown('all', 'TARRED')).toEqual(['quay.rope'])
  expect(shown('all', 'the mill')).toEqual(['mill.loft'])
  expect(shown('person:odile', 'tarred')).toEqual([])
  // a scene without a beat to show is left out, and a folded one stands alone
  expect(outlineRows(story, '', 'todo', result, () => true).map((row) => row.id)).toEqual(['quay', 'morning'])
  expect(outlineRows(story, '', 'all', result, (id) => id === 'quay').map((row) => row.id)).toEqual([
    'quay',
    'mill',
    'loft',
  ])
})

test('a to-do begins with the word, a note that merely has it is none', () => {
  expect(['todo: x', 'To-do', ' TODO later'].every(isTodo)).toBe(true)
  expect(['todos', 'not todo', '', undefined].some(isTodo)).toBe(false)
})

test('a speaker is meant by a whole name, or by first letters that can be nobody else’s', () => {
  const typed = (text: string) => speakerTyped(story, text)
  expect(typed('Odile: Mind it.')).toEqual({ speaker: 'odile', text: 'Mind it.' })
  expect(typed('od: Mind it.')).toEqual({ speaker: 'odile', text: 'Mind it.' })
  expect(typed('Ask:')).toEqual({ speaker: 'aske', text: '' })
  expect(typed('Tam: Salt.')).toEqual({ speaker: 'tamsin', text: 'Salt.' })
  // Tamsin or Tomas
  expect(typed('T: Salt.')).toBeUndefined()
  expect(typed('Nobody: Salt.')).toBeUndefined()
  expect(typed(': Salt.')).toBeUndefined()
  expect(typed('Odile said: no.')).toBeUndefined()
})
