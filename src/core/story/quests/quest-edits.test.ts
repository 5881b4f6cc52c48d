import { applyChange } from '../changes/apply'
import type { Story } from '../types'
import { stageBetween } from './stage-between'

const story = (moves?: [string, string][]): Story => ({
  paperCompass: 1,
  title: 'Quests',
  language: 'en',
  start: 'mill.yard',
  quests: [
    {
      id: 'sluice',
      name: 'Mend the sluice',
      stages: [
        { id: 'asked', name: 'Asked' },
        { id: 'done', name: 'Done', outcome: 'success' },
      ],
      ...(moves === undefined ? {} : { moves }),
    },
    { id: 'other', name: 'Another', stages: [{ id: 'done', name: 'Done' }] },
  ],
  scenes: [
    {
      id: 'mill',
      title: 'Mill',
      beats: [
        {
          id: 'yard',
          choices: [
            { id: 'mend', text: 'Mend it', do: ["quest.sluice = 'done'", "quest.other = 'done'"], to: '' },
            { id: 'pay', text: 'Pay for it', do: ["quest.sluice = 'done'"], to: '' },
          ],
        },
      ],
    },
  ],
})
const between = { quest: 'sluice', from: 'asked', to: 'done', stage: { id: 'found', name: 'Found it' } }

test('a stage comes between two others: in the order, in the moves, and for the effects that are named', () => {
  const change = stageBetween(story([['unstarted', 'asked'], ['asked', 'done']]), { ...between, repoint: ['mill.yard.mend'] }) // prettier-ignore
  if (!change.ok) throw new Error(change.error)
  const applied = applyChange(story([['unstarted', 'asked'], ['asked', 'done']]), change.value) // prettier-ignore
  if (!applied.ok) throw new Error(applied.error)
  const [quest] = applied.value.story.quests!
  expect(quest!.stages.map(({ id }) => id)).toEqual(['asked', 'found', 'done'])
  expect(quest!.moves).toEqual([
    ['unstarted', 'asked'],
    ['asked', 'found'],
    ['found', 'done'],
  ])
  const [mend, pay] = applied.value.story.scenes[0]!.beats[0]!.choices!
  // only what is named, and of that only this quest's effect
  expect(mend!.do).toEqual(["quest.sluice = 'found'", "quest.other = 'done'"])
  expect(pay!.do).toEqual(["quest.sluice = 'done'"])
})

test('without declared moves none are made up', () => {
  const change = stageBetween(story(), { ...between, repoint: [] })
  const applied = change.ok ? applyChange(story(), change.value) : change
  expect(applied.ok && applied.value.story.quests![0]).not.toHaveProperty('moves')
})

test('what is not there is refused with its name', () => {
  const refused = (part: object) => stageBetween(story(), { ...between, repoint: [], ...part })
  expect(refused({ quest: 'nobody' })).toEqual({ ok: false, error: 'there is no quest "nobody"' })
  expect(refused({ to: 'gone' })).toEqual({ ok: false, error: 'the quest has no stage "gone"' })
  expect(refused({ stage: { id: 'asked', name: 'Again' } })).toEqual({
    ok: false,
    error: 'the quest has a stage "asked" already',
  })
})
