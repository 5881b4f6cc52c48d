import { randomStory } from '../../../../bench/stories/random'
import { applyChange } from '../changes/apply'
import type { Change } from '../changes/types'
import { linkStory } from '../link'
import type { Quest, Story } from '../types'
import { nameItem, nameStage, titleBeat, titleScene } from './naming'

const made = (story: Story, change: Change): Story => {
  const applied = applyChange(story, change)
  if (!applied.ok) throw new Error(JSON.stringify(applied.error))
  return applied.value.story
}

const pier = (): Story => ({
  paperCompass: 1,
  title: 'The pier',
  language: 'en',
  start: 'scene.beat',
  quests: [{ id: 'errand', name: 'Errand', stages: [{ id: 'stage', name: 'New stage' }] }],
  scenes: [
    {
      id: 'scene',
      title: 'New scene',
      beats: [
        { id: 'beat', choices: [{ id: 'on', text: 'On', to: 'scene.next' }] },
        { id: 'next', onward: [{ to: 'scene.beat' }] },
      ],
    },
    { id: 'other', title: 'Other', beats: [{ id: 'alone' }] },
  ],
})

test('a scene’s id follows its title while only what lies in it names it, and its own roads go along', () => {
  const story = pier()
  const { change, id } = titleScene(story, story.scenes[0]!, '東の桟橋')
  expect(id).toMatch(/^[a-z][a-z0-9_]*$/)
  const now = made(story, change)
  expect(now.scenes[0]).toMatchObject({ id, title: '東の桟橋' })
  expect(now.start).toBe(`${id}.beat`)
  expect(now.scenes[0]!.beats[0]!.choices![0]!.to).toBe(`${id}.next`)
  // something outside leads there: the id stays
  const led: Story = {
    ...story,
    scenes: [story.scenes[0]!, { ...story.scenes[1]!, beats: [{ id: 'alone', onward: [{ to: 'scene.beat' }] }] }],
  }
  expect(titleScene(led, led.scenes[0]!, 'The quay')).toEqual({
    id: 'scene',
    change: { op: 'set-scene', scene: 'scene', values: { title: 'The quay' } },
  })
  // another has the name already
  expect(titleScene(story, story.scenes[0]!, 'Other').id).toBe('other_2')
})

test('a stage’s id follows its name until a gate or an effect names it', () => {
  const story = pier()
  const [quest] = story.quests!
  const stagesAfter = (text: string) => {
    const { change, id } = nameStage(story, quest!, quest!.stages[0]!, text)
    const [stage] = made(story, change).quests![0]!.stages
    expect(stage!.id).toBe(id)
    return stage
  }
  expect(stagesAfter(' Asked to mend it ')).toEqual({ id: 'asked_to_mend_it', name: 'Asked to mend it' })
  story.scenes[1]!.beats[0]!.lines = [{ text: 'Now.', do: ["quest.errand = 'stage'"] }]
  expect(stagesAfter('Asked')).toEqual({ id: 'stage', name: 'Asked' })
})

test('whatever is named anew, nothing that named it is left behind', () => {
  let followed = 0
  for (let seed = 1; seed <= 200; seed += 1) {
    const story = randomStory(seed)
    const problems = linkStory(story).problems.length
    const scene = story.scenes[seed % story.scenes.length]!
    const [beat] = scene.beats
    const names = ['Ein Steg', 'Пристань', '', '9 lives', '…', 'x'.repeat(10_000), 'e\u0301\u202Eabc']
    const name = names[seed % names.length]!
    const changes: Change[] = [titleScene(story, scene, name).change]
    if (beat !== undefined) changes.push(titleBeat(story, scene.id, beat, name).change)
    const quest: Quest | undefined = story.quests?.[0]
    if (quest !== undefined && name.trim() !== '') {
      const isTaken = (id: string) => story.quests!.some((one) => one.id === id)
      changes.push(nameItem(story, { list: 'quests' }, 'quest', quest, 0, name, isTaken))
      changes.push(nameStage(story, quest, quest.stages[0]!, name).change)
    }
    for (const change of changes) {
      const next = made(story, change)
      expect([seed, change.op, ...linkStory(next).problems.map((one) => JSON.stringify(one))]).toHaveLength(
        problems + 2,
      )
      if (change.op === 'batch') followed += 1
    }
  }
  expect(followed).toBeGreaterThan(5)
})
