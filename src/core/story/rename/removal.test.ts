import { randomStory } from '../../../../bench/stories/random'
import { applyChange } from '../changes/apply'
import type { Story } from '../types'
import { removal } from './removal'
import type { Named } from './rename'

/** Everything in a story that has a name and can be deleted. */
function namedIn(story: Story): Named[] {
  return [
    ...story.scenes.map(({ id }): Named => ({ of: 'scene', id })),
    ...(story.cast ?? []).map(({ id }): Named => ({ of: 'person', id })),
    ...(story.endings ?? []).map(({ id }): Named => ({ of: 'ending', id })),
    ...(story.quests ?? []).flatMap(({ id, stages }): Named[] => [
      { of: 'quest', id },
      ...stages.map((stage): Named => ({ of: 'stage', quest: id, id: stage.id })),
    ]),
    ...[...(story.ledger ?? []), ...story.scenes.flatMap(({ ledger }) => ledger ?? [])].map(({ id }): Named => ({
      of: 'entry',
      id,
    })),
    ...story.scenes.flatMap((scene) =>
      scene.beats.flatMap((beat): Named[] => [
        { of: 'beat', scene: scene.id, id: beat.id },
        ...(beat.choices ?? []).map((choice): Named => ({
          of: 'choice',
          scene: scene.id,
          beat: beat.id,
          id: choice.id,
        })),
      ]),
    ),
  ]
}

test('everything that has a name is deleted alone, is then gone, and comes back whole', () => {
  let removed = 0
  for (let seed = 1; seed <= 30; seed += 1) {
    const story = randomStory(seed)
    const all = namedIn(story)
    for (const named of all) {
      const change = removal(story, named)
      if (change === undefined) throw new Error(JSON.stringify(named))
      const applied = applyChange(story, change)
      if (!applied.ok) throw new Error(applied.error)
      const left = namedIn(applied.value.story).map((one) => JSON.stringify(one))
      const gone = all.map((one) => JSON.stringify(one)).filter((one) => !left.includes(one))
      expect(gone).toContain(JSON.stringify(named))
      // what lies in it goes with it, and nothing else does
      const lies = named.of === 'scene' || named.of === 'beat' || named.of === 'quest'
      if (!lies) expect(gone).toHaveLength(1)
      expect(removal(applied.value.story, named) === undefined || named.of === 'stage' || named.of === 'choice').toBe(
        true,
      )
      const undone = applyChange(applied.value.story, applied.value.inverse)
      expect(undone.ok && undone.value.story).toEqual(story)
      removed += 1
    }
  }
  expect(removed).toBeGreaterThan(300)
})

test('the moves of a stage go with it; what is not there is not deleted', () => {
  const story: Story = {
    paperCompass: 1,
    title: 'Gone',
    language: 'en',
    start: '',
    quests: [
      {
        id: 'dig',
        name: 'Dig',
        stages: [
          { id: 'asked', name: 'Asked' },
          { id: 'done', name: 'Done' },
        ],
        moves: [
          ['unstarted', 'asked'],
          ['asked', 'done'],
        ],
      },
    ],
    scenes: [],
  }
  const change = removal(story, { of: 'stage', quest: 'dig', id: 'done' })!
  const applied = applyChange(story, change)
  expect(applied.ok && applied.value.story.quests![0]).toMatchObject({
    stages: [{ id: 'asked' }],
    moves: [['unstarted', 'asked']],
  })
  const nobody: Named[] = [
    { of: 'scene', id: 'gone' },
    { of: 'person', id: 'gone' },
    { of: 'entry', id: 'gone' },
    { of: 'beat', scene: 'gone', id: 'gone' },
    { of: 'choice', scene: 'gone', beat: 'gone', id: 'gone' },
    { of: 'stage', quest: 'gone', id: 'gone' },
    { of: 'position', entry: 'gone', id: 'gone' },
  ]
  for (const named of nobody) expect({ named, change: removal(story, named) }).toEqual({ named, change: undefined })
})
