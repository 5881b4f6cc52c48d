import { randomStory } from '../bench/stories/random'
import { seededRandom } from '../src/core/base/random'
import { applyChange } from '../src/core/story/changes/apply'
import { declareStory } from '../src/core/story/declare'
import type { Story } from '../src/core/story/types'
import { storyNames } from '../src/session/names'
import { namingOf } from '../src/session/naming'
import { randomChange } from './random-change'
import { seeds } from './seeds'

/** All that can be named, as it is called. */
function calls(story: Story, by: Story): string[] {
  const names = storyNames(by)
  return [
    ...(story.quests ?? []).flatMap(({ id, stages }) => [
      names.quest(id),
      ...stages.map((stage) => names.stage(id, stage.id)),
    ]),
    ...(story.endings ?? []).map(({ id }) => names.ending(id)),
    ...story.scenes.flatMap((scene) =>
      scene.beats.flatMap((beat) => [
        names.beat(`${scene.id}.${beat.id}`),
        ...(beat.choices ?? []).map(({ id }) => names.choice(`${scene.id}.${beat.id}.${id}`)),
      ]),
    ),
  ]
}

test('a naming stays the same as long as every name does, and no longer', () => {
  let kept = 0
  let made = 0
  for (const seed of seeds(50)) {
    const random = seededRandom(seed)
    let story = randomStory(seed)
    let naming = namingOf(story, undefined)
    for (let round = 0; round < 12; round += 1) {
      const applied = applyChange(story, randomChange(story, random))
      if (!applied.ok) continue
      story = applied.value.story
      const next = namingOf(story, naming)
      if (next === naming) kept += 1
      else made += 1
      naming = next
      // all but the scenes themselves
      const declared = Object.fromEntries(
        Object.entries(naming.declared).filter(([part]) => part !== 'scenes' && part !== 'sceneBeats'),
      )
      expect({ seed, round, ...declareStory(story), calls: calls(story, story) }).toMatchObject({
        seed,
        round,
        ...declared,
        calls: calls(story, naming.story),
      })
    }
  }
  expect(Math.min(kept, made)).toBeGreaterThan(50)
})
