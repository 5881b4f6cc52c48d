import { linkStory } from '../story/link'
import type { Story } from '../story/types'
import { playThrough } from './transcript'

const story: Story = {
  paperCompass: 1,
  title: 'Rehearsed',
  language: 'en',
  start: 'quay.here',
  ledger: [
    { id: 'tide', kind: 'counter', min: 0, max: 2, initial: 1 },
    { id: 'pilot', kind: 'text' },
  ],
  endings: [{ id: 'home', name: 'Home' }],
  scenes: [
    {
      id: 'quay',
      title: 'Quay',
      beats: [
        {
          id: 'here',
          lines: [{ text: 'Here.' }],
          choices: [
            { id: 'wait', text: 'Wait', when: 'tide > 0', do: ['tide -= 1'], to: 'quay.here' },
            { id: 'sign', text: 'Sign', to: 'quay.log' },
          ],
        },
        { id: 'log', ask: { into: 'pilot', prompt: 'Name?' }, onward: [{ to: 'quay.end' }] },
        { id: 'end', ending: 'home' },
      ],
    },
  ],
}
const wait = { choice: 'quay.here.wait' }
const sign = { choice: 'quay.here.sign' }

test('a rehearsal stops at a decision that is refused, keeps what was played before it, and says why', () => {
  const { steps, refused } = playThrough(linkStory(story), [wait, wait, sign])
  expect(steps.map(({ decision }) => decision)).toEqual([undefined, wait])
  expect(refused).toMatchObject({ step: 2, decision: wait })
  expect(refused!.why).toMatch(/not open|closed/)
  // nothing of the refused decision is in the state that it stopped at
  expect(steps.at(-1)!.state).toMatchObject({ status: 'choice', entries: [0, ''] })
})

test('each step has what was shown and changed since the one before', () => {
  const { steps, refused } = playThrough(linkStory(story), [wait, sign, { at: 'quay.log', word: ' Wren ' }])
  expect(refused).toBeUndefined()
  expect(steps.map(({ lines, changes }) => [lines.length, changes.map(({ id, from, to }) => [id, from, to])])).toEqual([
    [1, []],
    [1, [['tide', 1, 0]]],
    [0, []],
    [0, [['pilot', '', 'Wren']]],
  ])
  expect(steps.at(-1)!.state.status).toBe('ended')
})

test('a word of blanks, a word where none is asked, and a choice of another beat are refused', () => {
  const linked = linkStory(story)
  for (const decisions of [
    [{ at: 'quay.log', word: 'Wren' }],
    [sign, wait],
    [sign, { at: 'quay.log', word: '   ' }],
    [sign, { at: 'quay.end', word: 'Wren' }],
  ])
    expect(playThrough(linked, decisions).refused).toMatchObject({ step: decisions.length })
})
